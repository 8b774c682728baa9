import { Box, Heading, Text } from "@chakra-ui/react";
import { FactRows } from "../app/FactRows";
import { number } from "../units/format";
import type { Siting, Spot } from "./queries";
import { t } from "./t";
import { EXCLUDED, TERMS, TOGETHER, zoneName } from "./words";

/** Below this share a term speaks against a spot. */
const AGAINST = 0.5;
/** Spreads from the median that are worth a word. */
const OFF = 0.5;

const spreads = (x: Spot["off_median"][number]) => number(Math.abs(x.spreads), 1);

/** What is known of the place under the flag, and what speaks against it. */
export function SpotDetail({ spot, siting }: { spot: Spot; siting: Siting }) {
  const zone = siting.zones.find((z) => z.zone === spot.zone);
  const against = [
    ...(spot.kept_off ? [t("siting.tooNear", { what: EXCLUDED[spot.kept_off] })] : []),
    ...(spot.zone !== null && spot.zone !== siting.zone ? [t("siting.otherZone")] : []),
    ...spot.terms
      .filter((x) => x.value !== null && x.value < AGAINST)
      .map((x) => t("siting.lowTerm", { term: TERMS[x.term] })),
    ...spot.off_median
      .filter((x) => Math.abs(x.spreads) > OFF)
      .map((x) =>
        x.spreads > 0
          ? t("siting.aboveMedian", { layer: TOGETHER[x.layer] ?? x.layer, spreads: spreads(x) })
          : t("siting.belowMedian", { layer: TOGETHER[x.layer] ?? x.layer, spreads: spreads(x) }),
      ),
  ];
  return (
    <Box mt="4">
      <Heading as="h2" size="md">
        {t("siting.underTheFlag")}
      </Heading>
      <FactRows
        rows={[
          [t("siting.position"), `${spot.position[1].toFixed(6)}, ${spot.position[0].toFixed(6)}`],
          [t("siting.zone"), zone ? zoneName(zone) : "–"],
          [t("siting.score"), spot.score === null ? t("siting.noScore") : number(spot.score, 0)],
        ]}
      />
      <Text fontSize="sm" fontWeight="600" mt="2">
        {t("siting.speaksAgainst")}
      </Text>
      {against.length === 0 ? (
        <Text fontSize="sm">{t("siting.nothingAgainst")}</Text>
      ) : (
        <Box as="ul" ps="5" fontSize="sm" listStyleType="disc">
          {against.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </Box>
      )}
    </Box>
  );
}
