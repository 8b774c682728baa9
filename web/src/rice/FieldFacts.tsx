import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { FactRows } from "../app/FactRows";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { useNitrogenDone, usePaddy, useSetThreshold, type Paddy, type Ponded } from "./queries";
import { RiceSheet } from "./RiceSheet";
import { t } from "./t";
import { levelWords } from "./words";

interface Props {
  block: { id: number; name: string };
  ponded: Ponded;
}

const WHY_NOT: Record<NonNullable<Ponded["not_deeper"]>, string> = {
  deepest: t("rice.deepest"),
  few_cycles: t("rice.fewCycles"),
  not_drying: t("rice.notDrying"),
  flowering_near: t("rice.floweringNear"),
};

/** What the field is at, what it loses, how deep it is dried, its nitrogen. */
export function FieldFacts({ block, ponded }: Props) {
  const { farm, units, may } = useSignedIn();
  const paddy = usePaddy(farm.slug, block.id);
  const [editing, setEditing] = useState(false);
  const described = paddy.data?.paddy;
  return (
    <Box as="section" aria-labelledby="rice-field">
      <Flex justify="space-between" align="baseline" gap="3">
        <Heading as="h2" id="rice-field" size="lg">
          {t("rice.riceField")}
        </Heading>
        {may("set_up_ground") && described && (
          <Button size="xs" variant="outline" onClick={() => setEditing(true)}>
            {t("rice.edit")}
          </Button>
        )}
      </Flex>
      {editing && described && (
        <RiceSheet block={block} paddy={described} close={() => setEditing(false)} />
      )}
      {paddy.error && <Notice error={paddy.error} />}
      <FactRows rows={rows(ponded, units)} />
      <Text fontSize="sm" color="inkSoft" mt="1">
        {ponded.falls > 0
          ? t("rice.learnedFrom", { falls: ponded.falls })
          : t("rice.notLearnedYet")}
      </Text>
      <Text fontSize="sm" mt="1">
        <a
          href={`/api/farms/${farm.slug}/blocks/${block.id}/tube-sheet.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          {t("rice.printTubeSheet")}
        </a>
      </Text>
      <Deeper block={block} ponded={ponded} />
      {described && <Nitrogen block={block} paddy={described} />}
    </Box>
  );
}

/** A share with its range, in percent. */
function shareWords(of: Ponded["porosity"]): string {
  if (!of) return t("rice.unknown");
  return t("rice.range", {
    middle: number(of.middle * 100, 0),
    low: number(of.low * 100, 0),
    high: number(of.high * 100, 0),
    unit: "%",
  });
}

function rows(p: Ponded, units: UnitSystem): [string, string][] {
  const day = measure(units, "waterDay");
  const range = (of: Ponded["percolation_mm_day"]) =>
    of
      ? t("rice.range", {
          middle: figure(of.middle, units, "waterDay"),
          low: figure(of.low, units, "waterDay"),
          high: figure(of.high, units, "waterDay"),
          unit: day.label,
        })
      : t("rice.unknown");
  return [
    [t("rice.phase"), t(`phase.${p.phase}`)],
    [
      t("rice.floodedAgainAt"),
      p.lower_mm === null ? t("rice.noMoreWater") : levelWords(p.lower_mm, units),
    ],
    [t("rice.floodedTo"), levelWords(p.upper_mm, units)],
    [t("rice.floweringOn"), shownDay(p.flowering_on)],
    [t("rice.drainOn"), shownDay(p.drain_on)],
    [t("rice.harvestOn"), shownDay(p.harvest_on)],
    [t("rice.percolation"), range(p.percolation_mm_day)],
    [t("rice.seepage"), range(p.seepage_mm_day)],
    [t("rice.porosity"), shareWords(p.porosity)],
  ];
}

/** How deep the field is dried, and the next step down or back. */
function Deeper({ block, ponded }: Props) {
  const { farm, units, may } = useSignedIn();
  const [asking, setAsking] = useState(false);
  const [noHarm, setNoHarm] = useState(false);
  const set = useSetThreshold(farm.slug, block.id);
  const shallower = ponded.threshold_mm < -150 ? ponded.threshold_mm + 50 : null;
  return (
    <Box mt="3">
      <Text fontWeight="700">
        {t("rice.threshold", { level: levelWords(ponded.threshold_mm, units) })}
      </Text>
      <Text fontSize="sm" color="inkSoft">
        {t("rice.cycles", { cycles: ponded.cycles })}{" "}
        {ponded.not_deeper ? WHY_NOT[ponded.not_deeper] : ""}
      </Text>
      {may("decide") && (
        <Flex gap="2" mt="1" wrap="wrap">
          {ponded.deeper_mm !== null && ponded.not_deeper === null && (
            <Button size="xs" onClick={() => setAsking(true)}>
              {t("rice.allowDeeper", { level: levelWords(ponded.deeper_mm, units) })}
            </Button>
          )}
          {shallower !== null && (
            <Button
              size="xs"
              variant="outline"
              loading={set.isPending}
              onClick={() => set.mutate({ threshold_mm: shallower, no_harm: false })}
            >
              {t("rice.goBackTo", { level: levelWords(shallower, units) })}
            </Button>
          )}
        </Flex>
      )}
      {set.error && !asking && <Notice error={set.error} />}
      {asking && ponded.deeper_mm !== null && (
        <FormSheet
          title={t("rice.allowDeeper", { level: levelWords(ponded.deeper_mm, units) })}
          close={() => setAsking(false)}
          save={() =>
            set.mutate(
              { threshold_mm: ponded.deeper_mm ?? ponded.threshold_mm, no_harm: noHarm },
              { onSuccess: () => setAsking(false) },
            )
          }
          words={t("rice.allow")}
          pending={set.isPending}
          disabled={!noHarm}
        >
          <Text mb="3">{t("rice.deeperWords")}</Text>
          <Tick label={t("rice.noHarm")} on={noHarm} change={setNoHarm} />
          {set.error && <Notice error={set.error} />}
        </FormSheet>
      )}
    </Box>
  );
}

/** Dressings that are planned, and those that are done. */
function Nitrogen({ block, paddy }: { block: Props["block"]; paddy: Paddy }) {
  const { farm, may } = useSignedIn();
  const done = useNitrogenDone(farm.slug, block.id);
  if (paddy.nitrogen.length + paddy.nitrogen_done.length === 0) return null;
  return (
    <Box mt="3">
      <Text fontWeight="700">{t("rice.nitrogen")}</Text>
      {paddy.nitrogen_done.map((on) => (
        <Text key={`done ${on}`} fontSize="sm" color="inkSoft">
          {t("rice.nitrogenDone", { day: shownDay(on) })}
        </Text>
      ))}
      {paddy.nitrogen.map((on) => (
        <Flex key={on} gap="2" align="center">
          <Text fontSize="sm">{t("rice.nitrogenPlanned", { day: shownDay(on) })}</Text>
          {may("log_water") && (
            <Button
              size="xs"
              variant="outline"
              aria-label={t("rice.markApplied", { day: shownDay(on) })}
              loading={done.isPending && done.variables === on}
              onClick={() => done.mutate(on)}
            >
              {t("rice.applied")}
            </Button>
          )}
        </Flex>
      ))}
      {done.error && <Notice error={done.error} />}
    </Box>
  );
}
