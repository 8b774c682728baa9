import { Box, Flex, NativeSelect, SegmentGroup, Text } from "@chakra-ui/react";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { isTyping } from "../app/typing";
import { useWidth } from "../draw/useWidth";
import { BlockFindings } from "../findings/BlockFindings";
import { useFindings, type Finding } from "../findings/queries";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { useRootActivity, useRunHours, useWettings } from "../wettings/queries";
import { Wettings } from "../wettings/Wettings";
import { DailyUse } from "./DailyUse";
import type { Span } from "./DepthLines";
import { Notes } from "../notes/Notes";
import { useNotes } from "../notes/queries";
import { PitWall } from "./PitWall";
import { useSeries, type BlockData } from "./queries";
import { Store } from "./Store";
import { t } from "./t";

const DepthLines = lazy(() => import("./DepthLines"));

const STRETCHES = [
  { days: 7, label: t("block.n7Days") },
  { days: 21, label: t("block.n21Days") },
  { days: 60, label: t("block.n60Days") },
  { days: 120, label: t("block.season") },
];

const LONGEST_DAYS = 120;

/** The soil behind: its profile or lines by depth, its events and notes; nothing without instruments. */
export function SoilPast({ block, time }: { block: BlockData; time: FarmTime }) {
  return block.instruments.length > 0 && <PastOf block={block} time={time} />;
}

/** The shortest stretch that shows all evidence of a finding; the season where none does. */
function stretchOf(finding: Finding, time: FarmTime): number {
  const since = -time.hoursTo(finding.first_at) / 24;
  return STRETCHES.find((s) => s.days >= since)?.days ?? LONGEST_DAYS;
}

/** When the evidence of a finding was seen. */
function spansOf(finding: Finding | undefined): Span[] {
  return (finding?.evidence ?? []).map((e) => ({ from: e.from_at, to: e.to_at }));
}

function PastOf({ block, time }: { block: BlockData; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  const [days, setDays] = useState(21);
  const [lines, setLines] = useState(false);
  const [chosen, setChosen] = useState(0);
  const [wetting, setWetting] = useState<number | null>(null);
  const [moment, setMoment] = useState<Date | null>(null);
  const [query, setQuery] = useSearchParams();
  const findings = useFindings(farm.slug, block.id);
  const finding = findings.data?.find((f) => String(f.id) === query.get("finding"));
  const graph = useRef<HTMLDivElement>(null);
  // A finding that is shown brings its graph, its instrument and its time.
  const shownAs = finding?.id;
  const [shown, setShown] = useState<number | undefined>(undefined);
  if (shownAs !== shown) {
    setShown(shownAs);
    if (finding) {
      setLines(true);
      setDays(stretchOf(finding, time));
    }
  }
  const [measure, width] = useWidth();
  const series = useSeries(farm.slug, block.id, days);
  const events = useWettings(farm.slug, block.id);
  const runHours = useRunHours(farm.slug, block.id);
  const roots = useRootActivity(farm.slug, block.id);
  const notes = useNotes(farm.slug, block.id);

  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (event.key === "l" && !isTyping(event)) setLines((v) => !v);
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);

  const named = finding?.evidence.find((e) => e.instrument)?.instrument;
  const site =
    series.data?.sites.find((s) => s.label === named) ??
    series.data?.sites[chosen] ??
    series.data?.sites[0];
  useEffect(() => {
    if (shown !== undefined) graph.current?.scrollIntoView({ block: "center" });
  }, [shown]);
  const wettings = useMemo(
    () => (events.data ?? []).filter((w) => w.instrument === site?.label),
    [events.data, site?.label],
  );
  const ownNotes = useMemo(
    () => (notes.data ?? []).filter((n) => n.instrument === site?.label),
    [notes.data, site?.label],
  );
  const instrument = block.instruments.find((i) => i.label === site?.label);
  return (
    <Box as="section" aria-label={t("block.readingsOfThisBlock")}>
      <Flex gap="3" wrap="wrap" align="center" mb="2">
        <SegmentGroup.Root
          size="xs"
          value={String(days)}
          onValueChange={(e) => setDays(Number(e.value))}
        >
          <SegmentGroup.Indicator />
          <SegmentGroup.Items
            items={STRETCHES.map((s) => ({ value: String(s.days), label: s.label }))}
          />
        </SegmentGroup.Root>
        <SegmentGroup.Root
          size="xs"
          value={lines ? "lines" : "wall"}
          onValueChange={(e) => setLines(e.value === "lines")}
        >
          <SegmentGroup.Indicator />
          <SegmentGroup.Items
            items={[
              { value: "wall", label: t("block.soilProfile") },
              { value: "lines", label: t("block.linesByDepth") },
            ]}
          />
        </SegmentGroup.Root>
        {(series.data?.sites.length ?? 0) > 1 && (
          <NativeSelect.Root size="xs" w="auto">
            <NativeSelect.Field
              aria-label={t("block.instrument")}
              value={chosen}
              onChange={(e) => setChosen(Number(e.currentTarget.value))}
            >
              {series.data?.sites.map((s, i) => (
                <option key={s.label} value={i}>
                  {s.label}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        )}
      </Flex>
      {finding && (
        <Text fontSize="sm" mb="1">
          {t("block.evidenceOf", { name: finding.name })}{" "}
          <LinkButton onClick={() => setQuery({}, { replace: true })}>
            {t("block.hideEvidence")}
          </LinkButton>
        </Text>
      )}
      <Box ref={graph} />
      <Box ref={measure}>
        {series.isPending && <Loading what={t("block.loadingTheReadings")} />}
        {series.error && <Notice error={series.error} retry={() => void series.refetch()} />}
        {series.data && site && width > 0 && (
          <>
            <Store series={series.data} block={block} width={width} units={units} />
            {lines ? (
              <Suspense fallback={<Loading what={t("block.loadingTheChart")} />}>
                <DepthLines
                  site={site}
                  width={width}
                  time={time}
                  units={units}
                  wettings={wettings}
                  chosen={wetting}
                  choose={setWetting}
                  notes={ownNotes}
                  moment={moment}
                  pick={setMoment}
                  spans={spansOf(finding)}
                />
              </Suspense>
            ) : (
              <PitWall
                series={series.data}
                site={site}
                width={width}
                time={time}
                units={units}
                wettings={wettings}
                chosen={wetting}
                choose={setWetting}
              />
            )}
            <DailyUse
              series={series.data}
              width={width}
              time={time}
              units={units}
              etcAhead={block.etc_mm_day}
            />
            {findings.error && (
              <Notice error={findings.error} retry={() => void findings.refetch()} />
            )}
            <BlockFindings
              findings={findings.data ?? []}
              time={time}
              show={(f) => setQuery({ finding: String(f.id) }, { replace: true })}
            />
            {notes.error && <Notice error={notes.error} retry={() => void notes.refetch()} />}
            {instrument && notes.data && (
              <Notes
                instrument={instrument}
                depthMm={site.depth_mm}
                notes={ownNotes}
                moment={moment}
                time={time}
              />
            )}
            {events.error && <Notice error={events.error} retry={() => void events.refetch()} />}
            {events.data && (
              <Wettings
                wettings={wettings}
                runHours={runHours.data ?? null}
                roots={roots.data?.find((r) => r.instrument === site.label) ?? null}
                chosen={wetting}
                choose={setWetting}
                time={time}
                units={units}
              />
            )}
          </>
        )}
      </Box>
    </Box>
  );
}
