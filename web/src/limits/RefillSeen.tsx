import { Box, Button, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { FormSheet } from "../form/FormSheet";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { figure, number, withUnit, type UnitSystem } from "../units/format";
import { AdviceThen } from "./AdviceThen";
import { FromAndReason } from "./FromAndReason";
import { useRefillSeen, useSetRefill, type RefillSeenData, type SiteRefill } from "./queries";
import { StageChoice } from "./StageChoice";
import { UptakePlot } from "./UptakePlot";
import { STAGES, type Stage } from "./words";
import { t } from "./t";

interface Props {
  block: number;
  name: string;
  stage: string | null;
  today: string;
}

/** What a site shows of where its crop begins to suffer, in words. */
export function siteWords(site: SiteRefill): string {
  const driest = number(Math.max(0, ...site.days.map((d) => d.gone)) * 100, 0);
  switch (site.why_not) {
    case "few days":
      return t("limits.refillFewDays", { count: site.days.length });
    case "never dry":
      return t("limits.refillNeverDry", { driest });
    case "no fall":
      return t("limits.refillNoFall", { count: site.days.length, driest });
    case null:
      return t("limits.refillBreak", {
        count: site.days.length,
        gone: number((site.break_gone ?? 0) * 100, 0),
        spread: number((site.break_spread ?? 0) * 100, 0),
        driest,
      });
  }
}

/** The best figure with its range, beside the one in force. */
export function refillWords(seen: RefillSeenData, units: UnitSystem): string {
  if (seen.depletion_mm === null || seen.low_mm === null || seen.high_mm === null) return "";
  return t("limits.refillSeenAt", {
    seen: withUnit(seen.depletion_mm, units, "water"),
    low: figure(seen.low_mm, units, "water"),
    high: figure(seen.high_mm, units, "water"),
    inForce: withUnit(seen.raw_mm, units, "water"),
  });
}

/** Where the crop began to take less than it would, and a way to adopt it as the refill point. */
export function RefillSeen({ block, name, stage, today }: Props) {
  const { farm, units, may } = useSignedIn();
  const seen = useRefillSeen(farm.slug, block);
  const [measured, width] = useWidth();
  const [adopting, setAdopting] = useState(false);
  if (seen.error) return <Notice error={seen.error} retry={() => void seen.refetch()} />;
  if (!seen.data) return null;
  const found = seen.data;
  return (
    <Box as="section" aria-labelledby="refill-seen" mb="6" ref={measured}>
      <Heading as="h2" id="refill-seen" size="lg">
        {t("limits.refillPointSeen")}
      </Heading>
      {found.sites.length === 0 ? (
        <Text fontSize="sm">{t("limits.noSiteTellsRefill")}</Text>
      ) : (
        <>
          <Text fontSize="sm" color="inkSoft">
            {t("limits.refillSeenIs")}
          </Text>
          {found.sites.map((site) => (
            <Box key={site.instrument} mt="2">
              <Text fontSize="sm">
                <b>{site.instrument}</b> {siteWords(site)}
              </Text>
              {width > 0 && site.days.length > 0 && (
                <UptakePlot site={site} width={width} inForce={found.raw_mm / found.taw_mm} />
              )}
            </Box>
          ))}
          {found.depletion_mm !== null && (
            <Text mt="2" fontWeight="600">
              {refillWords(found, units)}
            </Text>
          )}
          {may("set_up_ground") && found.share !== null && (
            <Button size="sm" variant="outline" mt="2" onClick={() => setAdopting(true)}>
              {t("limits.adoptRefillPoint")}
            </Button>
          )}
        </>
      )}
      {adopting && found.share !== null && (
        <AdoptSheet
          block={block}
          name={name}
          stage={stage}
          today={today}
          share={found.share}
          words={refillWords(found, units)}
          close={() => setAdopting(false)}
        />
      )}
    </Box>
  );
}

interface SheetProps extends Props {
  share: number;
  words: string;
  close: () => void;
}

function AdoptSheet({ block, name, stage, today, share, words, close }: SheetProps) {
  const { farm } = useSignedIn();
  const adopt = useSetRefill(farm.slug, block);
  const [inStage, setInStage] = useState(STAGES.find((s) => s === stage) ?? "");
  const [from, setFrom] = useState(today);
  const [reason, setReason] = useState("");
  return (
    <FormSheet
      title={t("limits.adoptRefillPointOf", { name })}
      close={close}
      save={() =>
        adopt.mutate(
          {
            refill_method: "flat",
            value: share,
            stage: (inStage || null) as Stage | null,
            from_on: from || null,
            reason: reason || t("limits.asSeenThisSeason"),
          },
          { onSuccess: close },
        )
      }
      words={t("limits.adopt")}
      pending={adopt.isPending}
    >
      <Text fontSize="sm" mb="3">
        {words} {t("limits.adoptingRefillMeans", { share: number(share * 100, 0) })}
      </Text>
      <Grid gap="3">
        <StageChoice value={inStage} change={setInStage} />
        <FromAndReason
          from={from}
          setFrom={setFrom}
          reason={reason}
          setReason={setReason}
          problems={problemsOf(adopt.error)}
        />
      </Grid>
      <AdviceThen block={block} change={{ refill_method: "flat", p: share }} />
      {adopt.error && <Notice error={adopt.error} />}
    </FormSheet>
  );
}
