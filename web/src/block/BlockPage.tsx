import {
  Box,
  Button,
  Flex,
  Grid,
  Heading,
  NativeSelect,
  SegmentGroup,
  Text,
} from "@chakra-ui/react";
import { lazy, Suspense, useEffect, useMemo, useRef, useState, type ComponentType } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { isTyping } from "../app/typing";
import { Deciding } from "../decide/Deciding";
import { useWidth } from "../draw/useWidth";
import { BlockFindings } from "../findings/BlockFindings";
import { useFindings, type Finding } from "../findings/queries";
import { useLeaf } from "../leaf/queries";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { withUnit } from "../units/format";
import { useRootActivity, useRunHours, useWettings } from "../wettings/queries";
import { Wettings } from "../wettings/Wettings";
import { Answer } from "./Answer";
import { BalanceTable } from "./BalanceTable";
import { DailyUse } from "./DailyUse";
import { Deficits } from "./Deficits";
import { DayTable } from "./DayTable";
import type { Span } from "./DepthLines";
import { LayerTable } from "./LayerTable";
import { Limits } from "./Limits";
import { Notes } from "../notes/Notes";
import { useNotes } from "../notes/queries";
import { PitWall } from "./PitWall";
import { useBlock, useSeries, type BlockData } from "./queries";
import { RefillMethods } from "./RefillMethods";
import { Store } from "./Store";
import { Working } from "./Working";
import { t } from "./t";

const WhatIf = lazy(() => import("../whatif/WhatIf"));
const HoldSheet = lazy(() =>
  import("../water/HoldSheet").then((found) => ({ default: found.HoldSheet })),
);
const LastIrrigation = lazy(() =>
  import("../finish/LastIrrigation").then((found) => ({ default: found.LastIrrigation })),
);
const FieldWater = lazy(() =>
  import("../rice/FieldWater").then((found) => ({ default: found.FieldWater })),
);
const SeasonWater = lazy(() =>
  import("../rice/SeasonWater").then((found) => ({ default: found.SeasonWater })),
);
const SameSupply = lazy(() =>
  import("../rice/SameSupply").then((found) => ({ default: found.SameSupply })),
);
const FieldFacts = lazy(() =>
  import("../rice/FieldFacts").then((found) => ({ default: found.FieldFacts })),
);
const NotDescribed = lazy(() =>
  import("../rice/NotDescribed").then((found) => ({ default: found.NotDescribed })),
);
const LeafChart = lazy(() =>
  import("../leaf/LeafChart").then((found) => ({ default: found.LeafChart })),
);
const LeafFacts = lazy(() =>
  import("../leaf/LeafFacts").then((found) => ({ default: found.LeafFacts })),
);
const Rounds = lazy(() => import("../leaf/Rounds").then((found) => ({ default: found.Rounds })));
const DeficitFacts = lazy(() =>
  import("../deficit/DeficitFacts").then((found) => ({ default: found.DeficitFacts })),
);
const CutFacts = lazy(() =>
  import("../cuts/CutFacts").then((found) => ({ default: found.CutFacts })),
);
const YieldAtRisk = lazy(() =>
  import("../risk/YieldAtRisk").then((found) => ({ default: found.YieldAtRisk })),
);
const OtherRules = lazy(() =>
  import("./OtherRules").then((found) => ({ default: found.OtherRules })),
);
const DepthLines = lazy(() => import("./DepthLines"));

const STRETCHES = [
  { days: 7, label: t("block.n7Days") },
  { days: 21, label: t("block.n21Days") },
  { days: 60, label: t("block.n60Days") },
  { days: 120, label: t("block.season") },
];

const LONGEST_DAYS = 120;

export function BlockPage() {
  const { block: id } = useParams();
  const { farm } = useSignedIn();
  const block = useBlock(farm.slug, Number(id));
  if (block.isPending) return <Loading what={t("block.loadingTheBlock")} />;
  if (block.error) return <Notice error={block.error} retry={() => void block.refetch()} />;
  return <Pit block={block.data} />;
}

function Pit({ block }: { block: BlockData }) {
  const { farm, units, may } = useSignedIn();
  const time = useMemo(() => new FarmTime(block.now, block.time_zone), [block]);
  const here = `/${farm.slug}/blocks/${block.id}`;
  const [trying, setTrying] = useState(false);
  const [holding, setHolding] = useState(false);
  const { Past, Facts, Rules, asksWhatIf } = REGIMES[block.answer.regime];
  return (
    <Box maxW="1500px">
      <Flex justify="space-between" align="start" gap="4" wrap="wrap">
        <Box flex="1 1 480px" minW="280px">
          <Text fontSize="sm" color="inkSoft">
            <Link to={`/${farm.slug}`}>{t("block.board")}</Link>
          </Text>
          <Flex align="baseline" gap="3" wrap="wrap">
            <Heading as="h1" size="2xl" fontWeight="700">
              {block.name}
            </Heading>
            <Text color="inkSoft">
              {[
                block.crop ?? t("block.noCrop"),
                block.answer.stage && t(`stage.${block.answer.stage}`),
                block.soil,
                t(`system.${block.system}`),
                withUnit(block.area_m2, units, "area", 1),
              ]
                .filter(Boolean)
                .join(" · ")}
            </Text>
          </Flex>
          <Answer block={block} time={time} />
          <Deciding block={block} time={time} />
        </Box>
        <Flex gap="2" wrap="wrap" maxW={{ md: "430px" }} justify={{ md: "flex-end" }}>
          {may("record_readings") && (
            <Button asChild size="sm">
              <Link to={`${here}/readings`}>{t("block.addReadings")}</Link>
            </Button>
          )}
          {asksWhatIf && (
            <Button
              size="sm"
              variant="outline"
              aria-expanded={trying}
              onClick={() => setTrying(!trying)}
            >
              {t("block.whatIf")}
            </Button>
          )}
          <Button asChild size="sm" variant="outline">
            <Link to={`${here}/history`}>{t("block.pastAdvice")}</Link>
          </Button>
          <Button asChild size="sm" variant="outline">
            <Link to={`${here}/limits`}>{t("block.limitsAndSeason")}</Link>
          </Button>
          <Button asChild size="sm" variant="outline">
            <Link to={`${here}/seasons`}>{t("block.compareSeasons")}</Link>
          </Button>
          {may("decide") && (
            <Button size="sm" variant="outline" onClick={() => setHolding(true)}>
              {t("block.holdIrrigation")}
            </Button>
          )}
          {may("set_up_ground") && (
            <Button asChild size="sm" variant="outline">
              <Link to={`${here}/setup`}>{t("block.editBlock")}</Link>
            </Button>
          )}
        </Flex>
      </Flex>
      <Suspense fallback={<Loading what={t("block.loadingWhatIf")} />}>
        {trying && <WhatIf block={block} time={time} />}
        {holding && <HoldSheet block={block} time={time} close={() => setHolding(false)} />}
      </Suspense>
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 350px" }}
        templateAreas={{
          base: `"past" "side" "tables"`,
          lg: `"past side" "tables side"`,
        }}
        templateRows={{ lg: "auto 1fr" }}
        columnGap="8"
        rowGap="4"
        mt="4"
      >
        <Box gridArea="past" minW="0">
          <Past block={block} time={time} />
        </Box>
        <Box gridArea="tables" minW="0">
          <LayerTable layers={block.layers} time={time} />
          <DayTable days={block.days} time={time} />
          <BalanceTable block={block} time={time} />
        </Box>
        <Box gridArea="side" minW="0">
          <Suspense fallback={null}>
            <Facts block={block} time={time} />
          </Suspense>
          <Working steps={block.steps} />
          <Rules block={block} time={time} />
        </Box>
      </Grid>
    </Box>
  );
}

interface Parts {
  block: BlockData;
  time: FarmTime;
}

/** What a block's page shows of its store, beside it, and of the rules for it, by its regime. */
const REGIMES: Record<
  BlockData["answer"]["regime"],
  Record<"Past" | "Facts" | "Rules", ComponentType<Parts>> & {
    /** Whether other assumptions of the soil can be tried. */
    asksWhatIf: boolean;
  }
> = {
  above_refill: { Past: SoilPast, Facts: SoilFacts, Rules: SoilRules, asksWhatIf: true },
  leaf_guided: { Past: LeafPast, Facts: LeafSide, Rules: BandRules, asksWhatIf: true },
  deficit: { Past: SoilPast, Facts: DeficitSide, Rules: BandRules, asksWhatIf: true },
  cut_or_grazed: { Past: SoilPast, Facts: CutSide, Rules: SoilRules, asksWhatIf: true },
  ponded: { Past: FieldPast, Facts: RiceFacts, Rules: () => null, asksWhatIf: false },
};

function SoilRules({ block, time }: Parts) {
  return (
    <>
      <RefillMethods methods={block.refill_methods} time={time} />
      <Limits block={block} />
      <Suspense fallback={null}>
        <OtherRules block={block} />
      </Suspense>
    </>
  );
}

function BandRules({ block }: Parts) {
  return (
    <>
      <Limits block={block} />
      <Suspense fallback={null}>
        <OtherRules block={block} />
      </Suspense>
    </>
  );
}

function SoilPast({ block, time }: Parts) {
  return block.instruments.length > 0 && <PastOf block={block} time={time} />;
}

function SoilFacts({ block, time }: Parts) {
  return (
    <>
      <Deficits estimates={block.estimates} limits={block.limits} time={time} />
      {block.answer.at_risk && <YieldAtRisk block={block} risk={block.answer.at_risk} />}
      {block.crop && <LastIrrigation block={block.id} />}
      {block.system === "rice paddy" && <NotDescribed block={block} />}
    </>
  );
}

function LeafPast({ block, time }: Parts) {
  const { farm } = useSignedIn();
  const leaf = useLeaf(farm.slug, block.id, block.answer.leaf?.round_on);
  const said = block.answer.leaf ?? null;
  return (
    <Suspense fallback={<Loading what={t("block.loadingTheChart")} />}>
      {said && block.leaves.length > 0 && (
        <LeafChart
          points={block.leaves}
          said={said}
          rounds={leaf.data?.rounds ?? []}
          sets={block.sets}
          time={time}
        />
      )}
      <Rounds block={block} said={said} time={time} />
      <Box mt="6">
        <SoilPast block={block} time={time} />
      </Box>
    </Suspense>
  );
}

function LeafSide({ block, time }: Parts) {
  return (
    <>
      <LeafFacts block={block} said={block.answer.leaf ?? null} />
      <SoilFacts block={block} time={time} />
    </>
  );
}

function DeficitSide({ block, time }: Parts) {
  return (
    <>
      <DeficitFacts block={block} said={block.answer.deficit ?? null} />
      <SoilFacts block={block} time={time} />
    </>
  );
}

function CutSide({ block, time }: Parts) {
  return (
    <>
      <CutFacts block={block} said={block.answer.cutting ?? null} />
      <SoilFacts block={block} time={time} />
    </>
  );
}

function FieldPast({ block, time }: Parts) {
  const ponded = block.answer.ponded;
  return (
    <Suspense fallback={<Loading what={t("block.loadingTheChart")} />}>
      {ponded && <FieldWater levels={block.levels} ponded={ponded} sets={block.sets} time={time} />}
      {ponded && <SeasonWater block={block.id} />}
      {ponded && <SameSupply block={block.id} time={time} />}
    </Suspense>
  );
}

function RiceFacts({ block }: Parts) {
  const ponded = block.answer.ponded;
  return <Box mb="6">{ponded && <FieldFacts block={block} ponded={ponded} />}</Box>;
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
