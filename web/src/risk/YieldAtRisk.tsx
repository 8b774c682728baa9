import { Box, Heading, Text } from "@chakra-ui/react";
import { FactRows } from "../app/FactRows";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { withUnit, number, type UnitSystem } from "../units/format";
import { money } from "../units/money";
import { useYieldValue, type AtRisk, type Priced } from "./queries";
import { t } from "./t";

interface Props {
  block: { id: number; area_m2: number };
  risk: AtRisk;
}

/** Sensitive windows, what a day of stress and a day's delay cost, and the water to the end. */
export function YieldAtRisk({ block, risk }: Props) {
  const { farm, units } = useSignedIn();
  const worth = useYieldValue(farm.slug, block.id);
  const priced = worth.data && worth.data.value !== null ? worth.data : null;
  return (
    <Box as="section" aria-labelledby="yield-at-risk" mt="6">
      <Heading as="h2" id="yield-at-risk" size="lg">
        {t("risk.yieldAtRisk")}
      </Heading>
      <FactRows rows={rows(risk, priced, block.area_m2, units)} />
      <Text fontSize="sm" color="inkSoft" mt="1">
        {t("risk.source")} {worth.data && !priced && t("risk.notPriced")}
      </Text>
    </Box>
  );
}

/** A share of the yield in percent, and in money where it is priced. */
function cost(share: number, priced: Priced | null): string {
  const percent = t("risk.ofYield", { share: number(share * 100, share < 0.095 ? 1 : 0) });
  return !priced || priced.value === null
    ? percent
    : `${percent}, ${money(share * priced.value, priced.currency)}`;
}

function rows(
  risk: AtRisk,
  priced: Priced | null,
  areaM2: number,
  units: UnitSystem,
): [string, string][] {
  const out: [string, string][] = [];
  if (risk.window) {
    out.push([
      t("risk.windowNow"),
      t("risk.windowUntil", {
        name: t(`window.${risk.window.name}`),
        day: shownDay(risk.window.ends_on),
        ky: number(risk.window.ky, 2),
      }),
    ]);
  }
  if (risk.next_window) {
    out.push([
      t("risk.windowNext"),
      t("risk.windowFrom", {
        name: t(`window.${risk.next_window.name}`),
        day: shownDay(risk.next_window.starts_on),
        ky: number(risk.next_window.ky, 2),
      }),
    ]);
  }
  out.push([
    t("risk.stressDay"),
    risk.stress_day_share === null ? t("risk.unknown") : cost(risk.stress_day_share, priced),
  ]);
  if (risk.practice_share !== null) {
    out.push([t("risk.practice"), t("risk.upTo", { share: number(risk.practice_share * 100, 0) })]);
  }
  out.push([t("risk.delay"), delayWords(risk, priced)]);
  out.push([
    t("risk.restUse", { days: risk.rest_days }),
    withUnit(risk.rest_use_mm, units, "water", units === "metric" ? 0 : 1),
  ]);
  out.push([
    t("risk.restNeed"),
    t("risk.depthAndVolume", {
      depth: withUnit(risk.rest_need_mm, units, "water", units === "metric" ? 0 : 1),
      volume: withUnit((risk.rest_need_mm / 1000) * areaM2, units, "volume"),
    }),
  ]);
  return out;
}

const LEAST = 0.0005;

function delayWords(risk: AtRisk, priced: Priced | null): string {
  if (risk.delay_mm === null) return t("risk.noneInSight");
  if (risk.delay_share === null) return t("risk.unknown");
  return risk.delay_share < LEAST ? t("risk.nextToNothing") : cost(risk.delay_share, priced);
}
