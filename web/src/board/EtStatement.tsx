import { Text } from "@chakra-ui/react";
import { lazy, Suspense, useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { useSignedIn } from "../session/context";
import { figure, measure, withUnit, type UnitSystem } from "../units/format";
import type { BoardData, StatedEt } from "./queries";
import { t } from "./t";

const EtDialog = lazy(() => import("./EtDialog"));

/** What rain the dates count on: what most members of the forecast bring. */
export function rainWords(ahead: BoardData["rain_ahead"], units: UnitSystem): string {
  const likely = ahead.reduce((sum, r) => sum + r.likely_mm, 0);
  if (likely > 0) return t("board.ofRainExpected", { likely: withUnit(likely, units, "water") });
  return ahead.length > 0 ? t("board.noRainCertainEnoughToCount") : t("board.noRainCounted");
}

interface Props {
  et: StatedEt | null;
  rainAhead: BoardData["rain_ahead"];
  ratio: number | null;
}

/** The ET0 that the days ahead run on, and the way to state another. */
export function EtStatement({ et, rainAhead, ratio }: Props) {
  const { farm, units, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  return (
    <Text color="inkSoft" fontSize="sm">
      {et
        ? t("board.grassEtForTheDaysAheadTo", {
            expected: figure(et.expected, units, "waterDay"),
            label: measure(units, "waterDay").label,
            low: figure(et.low, units, "waterDay"),
            high: figure(et.high, units, "waterDay"),
            source: et.source,
            rainWords: rainWords(rainAhead, units),
          })
        : t("board.noEtIsKnownForTheDays")}{" "}
      {may("enter_et") && (
        <LinkButton onClick={() => setOpen(true)}>{t("board.enterEt")}</LinkButton>
      )}
      {open && (
        <Suspense fallback={null}>
          <EtDialog et={et} ratio={ratio} slug={farm.slug} close={() => setOpen(false)} />
        </Suspense>
      )}
    </Text>
  );
}
