import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { FactRows } from "../app/FactRows";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { span } from "../time/farmTime";
import { figure, measure, number, withUnit, type UnitSystem } from "../units/format";
import { useLeaf, type LeafSaid, type Steering } from "./queries";
import { SteeringSheet } from "./SteeringSheet";
import { t } from "./t";

interface Props {
  block: { id: number; name: string };
  said: LeafSaid | null;
}

/** What the block is steered by, where its leaf stands, and what leaf and soil say of each other. */
export function LeafFacts({ block, said }: Props) {
  const { farm, units, may } = useSignedIn();
  const leaf = useLeaf(farm.slug, block.id);
  const [editing, setEditing] = useState(false);
  const steering = leaf.data?.steering;
  return (
    <Box as="section" aria-labelledby="leaf-facts" mb="6">
      <Flex justify="space-between" align="baseline" gap="3">
        <Heading as="h2" id="leaf-facts" size="lg">
          {t("leaf.steered")}
        </Heading>
        {may("set_up_ground") && steering && (
          <Button size="xs" variant="outline" onClick={() => setEditing(true)}>
            {t("leaf.edit")}
          </Button>
        )}
      </Flex>
      {editing && leaf.data && (
        <SteeringSheet block={block} leaf={leaf.data} close={() => setEditing(false)} />
      )}
      {leaf.error && <Notice error={leaf.error} retry={() => void leaf.refetch()} />}
      {steering && <FactRows rows={rows(steering, said, units)} />}
      {said && (
        <Text fontSize="sm" color="inkSoft" mt="1">
          {t("leaf.learnedFrom", { rounds: said.rounds })} {apartWords(said)}
        </Text>
      )}
    </Box>
  );
}

const CLEARLY_APART = 2;

/** Whether leaf and soil agree, and what it means where they do not. */
function apartWords(said: LeafSaid): string {
  if (said.apart_spreads === null) return t("leaf.tooFewToCompare");
  if (said.apart_spreads < -CLEARLY_APART) return t("leaf.drierThanSoil");
  return said.apart_spreads > CLEARLY_APART ? t("leaf.wetterThanSoil") : t("leaf.agree");
}

function bandWords(upper: number, lower: number, units: UnitSystem): string {
  return t("leaf.fromTo", {
    upper: figure(upper, units, "stem"),
    lower: figure(lower, units, "stem"),
    unit: measure(units, "stem").label,
  });
}

function rows(s: Steering, said: LeafSaid | null, units: UnitSystem): [string, string][] {
  const out: [string, string][] = [
    [t("leaf.product"), t(`product.${s.product}`)],
    [
      t("leaf.strategy"),
      s.strategy === "share"
        ? t("leaf.shareOfEtc", { share: number((s.use_share ?? 0) * 100, 0) })
        : t(`strategy.${s.strategy}`),
    ],
  ];
  if (!said) return out;
  out.push([t(`leaf_phase.${said.phase}`), bandWords(said.band_upper, said.band_lower, units)]);
  const next = s.bands.find((b) => b.phase === said.next_phase);
  if (next && said.next_on) {
    out.push([
      t("leaf.nextPhase", {
        phase: t(`leaf_phase.${next.phase}`),
        day: shownDay(said.next_on),
      }),
      bandWords(next.upper_mpa, next.lower_mpa, units),
    ]);
  }
  out.push([
    t("leaf.leafNow"),
    t("leaf.range", {
      middle: figure(said.now.middle, units, "stem"),
      low: figure(said.now.low, units, "stem"),
      high: figure(said.now.high, units, "stem"),
      unit: measure(units, "stem").label,
    }),
  ]);
  if (said.latest_mpa !== null && said.latest_hours !== null) {
    out.push([
      t("leaf.latestRound"),
      t("leaf.agoRead", {
        mpa: withUnit(said.latest_mpa, units, "stem"),
        ago: span(-said.latest_hours),
      }),
    ]);
  }
  out.push([
    t("leaf.edgesInSoil"),
    t("leaf.sharesGone", {
      upper: number(said.upper_share * 100, 0),
      lower: number(said.lower_share * 100, 0),
    }),
  ]);
  if (said.round_on) out.push([t("leaf.nextRoundDue"), shownDay(said.round_on)]);
  if (said.side && said.side_until) {
    out.push([
      t("leaf.sideNow"),
      t("leaf.sideUntil", { side: t(`side.${said.side}`), day: shownDay(said.side_until) }),
    ]);
  }
  return out;
}
