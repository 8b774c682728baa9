import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { FactRows } from "../app/FactRows";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { RemoveButton } from "../form/RemoveButton";
import { useSignedIn } from "../session/context";
import { count } from "../units/format";
import { useChangeLayer, useDeleteLayer, type SitingLayer } from "./queries";
import { t } from "./t";
import { typedNumber } from "./typedNumber";
import { DROPPED } from "./words";

interface Props {
  layer: SitingLayer;
  block: number;
  close: () => void;
}

type Rule =
  "headland_m" | "start_m" | "end_m" | "slowest" | "fastest" | "jump" | "overlap" | "spreads";

const RULES: [Rule, string, string, string][] = [
  ["headland_m", t("siting.ruleHeadland"), "12", "m"],
  ["start_m", t("siting.ruleStart"), "12", "m"],
  ["end_m", t("siting.ruleEnd"), "6", "m"],
  ["slowest", t("siting.ruleSlowest"), "0.4", "×"],
  ["fastest", t("siting.ruleFastest"), "1.8", "×"],
  ["jump", t("siting.ruleJump"), "0.25", "×"],
  ["overlap", t("siting.ruleOverlap"), "0.5", "×"],
  ["spreads", t("siting.ruleSpreads"), "3", ""],
];

/** What was dropped of a layer's points and why; the rules changed, the layer made again. */
export function CleanSheet({ layer, block, close }: Props) {
  const { farm, may } = useSignedIn();
  const change = useChangeLayer(farm.slug, block);
  const remove = useDeleteLayer(farm.slug);
  const isYield = layer.kind === "yield";
  const [rules, setRules] = useState<Partial<Record<Rule, string>>>(
    Object.fromEntries(RULES.map(([r]) => [r, String(layer.cleaning[r] ?? "")])),
  );
  const [rain, setRain] = useState(layer.rain_mm === null ? "" : String(layer.rain_mm));
  const editable = may("set_up_ground");
  const save = () =>
    change.mutate(
      {
        layer: layer.id,
        body: {
          used: layer.used,
          rain_mm: typedNumber(rain),
          cleaning: Object.fromEntries(RULES.map(([r]) => [r, typedNumber(rules[r])])),
        },
      },
      { onSuccess: close },
    );
  const dropped = Object.keys(DROPPED).flatMap((why): [string, number][] => {
    const found = layer.facts.dropped[why] ?? 0;
    return found > 0 ? [[why, found]] : [];
  });
  return (
    <FormSheet
      title={t("siting.cleanPoints", { layer: layer.name })}
      close={close}
      words={t("siting.makeLayerAgain")}
      pending={change.isPending}
      disabled={!editable}
      save={save}
      size="lg"
      other={
        editable && (
          <RemoveButton
            words={t("siting.deleteLayer")}
            pending={remove.isPending}
            press={() => remove.mutate(layer.id, { onSuccess: close })}
          />
        )
      }
    >
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="6">
        <Box>
          <FactRows rows={dropped.map(([why, n]) => [DROPPED[why] ?? why, count(n)])} />
          {layer.facts.not_checked.map((why) => (
            <Text key={why} fontSize="sm" color="inkSoft" mt="1">
              {t("siting.notChecked", { what: DROPPED[why] ?? why })}
            </Text>
          ))}
        </Box>
        <Grid templateColumns="1fr 1fr" gap="3" alignContent="start">
          {isYield && (
            <Line
              label={t("siting.rainOfSeason")}
              value={rain}
              change={setRain}
              unit="mm"
              numeric
            />
          )}
          {RULES.filter(([rule]) => isYield || rule === "spreads" || rule === "headland_m").map(
            ([rule, label, usual, unit]) => (
              <Line
                key={rule}
                label={label}
                value={rules[rule] ?? ""}
                change={(v) => setRules({ ...rules, [rule]: v })}
                placeholder={isYield ? usual : rule === "spreads" ? "4" : "0"}
                unit={unit}
                numeric
              />
            ),
          )}
        </Grid>
      </Grid>
      {change.error && <Notice error={change.error} />}
      {remove.error && <Notice error={remove.error} />}
    </FormSheet>
  );
}
