import { Box, Flex, Grid, Heading, SegmentGroup, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { figure, measure } from "../units/format";
import { CurveList } from "./CurveList";
import { Identity } from "./Identity";
import { LogPanel } from "./LogPanel";
import { PhotoPanel } from "./PhotoPanel";
import { useChart, useInstrument, useRules, type ChartLine, type Detail } from "./queries";
import { TaskPanel } from "./TaskPanel";
import { VerdictPanel } from "./VerdictPanel";
import { failed, lastWord, quantityName, trustedShare, worries } from "./words";

const ReadingsChart = lazy(() => import("./ReadingsChart"));

const STRETCHES = [
  { days: 7, label: "7 days" },
  { days: 30, label: "30 days" },
  { days: 150, label: "season" },
];

export function InstrumentPage() {
  const { instrument: id } = useParams();
  const { farm } = useSignedIn();
  const found = useInstrument(farm.slug, Number(id));
  if (found.isPending) return <Loading what="Opening the instrument" />;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  return <Instrument detail={found.data} />;
}

function Instrument({ detail }: { detail: Detail }) {
  const { farm, units } = useSignedIn();
  const time = useMemo(() => new FarmTime(detail.now, detail.time_zone), [detail]);
  const { health } = detail;
  const found = worries(health);
  return (
    <Box maxW="1500px" mx="auto">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/ground/instruments`}>← Instruments</Link>
      </Text>
      <Flex align="baseline" gap="3" wrap="wrap">
        <Heading as="h1" size="2xl" fontWeight="700">
          {health.label}
        </Heading>
        <Text color="inkSoft">
          {health.kind_name} in{" "}
          <Link
            to={`/${farm.slug}/blocks/${health.block_id}`}
            style={{ textDecoration: "underline" }}
          >
            {health.block}
          </Link>
          {health.depths_mm.length > 0 &&
            `, ${health.depths_mm.map((d) => figure(d, units, "depth")).join(" ")} ${measure(units, "depth").label}`}
        </Text>
      </Flex>
      <Text mt="1" fontSize="lg">
        {health.status}, last word {lastWord(health.last_at, time)}
        {health.trusted !== null && `, ${trustedShare(health.trusted)} trusted this week`}
        {found.length > 0 && (
          <Text as="span" color="rust" fontWeight="600">
            {" "}
            – {found.join("; ")}
          </Text>
        )}
      </Text>
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 370px" }}
        columnGap="8"
        rowGap="6"
        mt="4"
      >
        <Box minW="0">
          <Readings detail={detail} time={time} />
        </Box>
        <Box minW="0">
          <TaskPanel detail={detail} time={time} />
          <LogPanel detail={detail} time={time} />
          <Identity detail={detail} />
          <CurveList detail={detail} time={time} />
          <PhotoPanel detail={detail} time={time} />
        </Box>
      </Grid>
    </Box>
  );
}

function Readings({ detail, time }: { detail: Detail; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  const [days, setDays] = useState(30);
  const [range, setRange] = useState<[number, number] | null>(null);
  const [calibrated, setCalibrated] = useState(true);
  const [measured, width] = useWidth();
  const stretch = useMemo(() => {
    const last = range ? new Date(range[1] * 1000) : time.now;
    const first = range ? new Date(range[0] * 1000) : time.at(-days * 24);
    return { first: first.toISOString(), last: last.toISOString() };
  }, [range, days, time]);
  const chart = useChart(farm.slug, detail.health.id, stretch, calibrated);
  const byQuantity = useMemo(() => {
    const groups = new Map<string, ChartLine[]>();
    for (const line of chart.data?.lines ?? []) {
      groups.set(line.quantity, [...(groups.get(line.quantity) ?? []), line]);
    }
    return [...groups.entries()];
  }, [chart.data]);
  const some = chart.data?.lines.some((l) => l.times.length + l.doubts.length > 0);

  return (
    <Box as="section" aria-label="Readings">
      <Flex gap="3" wrap="wrap" align="center" mb="2">
        <SegmentGroup.Root
          size="xs"
          value={range ? "" : String(days)}
          onValueChange={(e) => {
            setRange(null);
            setDays(Number(e.value));
          }}
        >
          <SegmentGroup.Indicator />
          <SegmentGroup.Items
            items={STRETCHES.map((s) => ({ value: String(s.days), label: s.label }))}
          />
        </SegmentGroup.Root>
        <SegmentGroup.Root
          size="xs"
          value={calibrated ? "told" : "raw"}
          onValueChange={(e) => setCalibrated(e.value === "told")}
        >
          <SegmentGroup.Indicator />
          <SegmentGroup.Items
            items={[
              { value: "told", label: "what it means" },
              { value: "raw", label: "as written down" },
            ]}
          />
        </SegmentGroup.Root>
        {range ? (
          <Text fontSize="sm" color="inkSoft">
            {time.full(new Date(range[0] * 1000))} to {time.full(new Date(range[1] * 1000))}{" "}
            <LinkButton onClick={() => setRange(null)}>see all again</LinkButton>
          </Text>
        ) : (
          <Text fontSize="sm" color="inkSoft">
            Draw over the plot to look closer.
          </Text>
        )}
      </Flex>
      <Box ref={measured}>
        {chart.isPending && <Loading what="Fetching the readings" />}
        {chart.error && <Notice error={chart.error} retry={() => void chart.refetch()} />}
        {chart.data && !some && (
          <Text py="10" color="inkSoft">
            No readings in this stretch.
          </Text>
        )}
        {some &&
          width > 0 &&
          byQuantity.map(([quantity, lines]) => (
            <Suspense key={quantity} fallback={<Loading what="Drawing" />}>
              <ReadingsChart
                lines={lines}
                width={width}
                time={time}
                units={units}
                zoom={setRange}
              />
            </Suspense>
          ))}
        {chart.data && some && (
          <Text fontSize="sm" color="inkSoft">
            × is not used.{" "}
            {chart.data.step_s > 0
              ? `Each point stands for ${Math.round(chart.data.step_s / 360) / 10} h; lowest and highest are both drawn.`
              : "Every reading is drawn."}
          </Text>
        )}
      </Box>
      {some && (
        <Text fontSize="sm" mt="1">
          This stretch as{" "}
          {["csv", "json", "parquet"].map((form) => (
            <a
              key={form}
              href={`/api/farms/${farm.slug}/instruments/${detail.health.id}/export?${new URLSearchParams({ ...stretch, format: form })}`}
              style={{ textDecoration: "underline", marginInlineEnd: "0.7em" }}
            >
              {form === "parquet" ? "Parquet" : form.toUpperCase()}
            </a>
          ))}
        </Text>
      )}
      {chart.data && <Found lines={chart.data.lines} />}
      <VerdictPanel detail={detail} time={time} stretch={stretch} />
    </Box>
  );
}

/** What the rules found in the stretch, with what it may mean. */
function Found({ lines }: { lines: ChartLine[] }) {
  const rules = useRules();
  const { units } = useSignedIn();
  const noted = lines.reduce((all, line) => all | line.noted, 0);
  const hit = failed(noted, rules.data?.rules ?? []);
  if (hit.length === 0) return null;
  return (
    <Box as="section" mt="5" aria-label="What the rules found">
      <Heading as="h2" size="md">
        What the rules found
      </Heading>
      <Box as="dl" mt="1" fontSize="sm">
        {hit.map((rule) => {
          const where = lines.filter((l) => (l.noted & rule.flag) !== 0);
          const depths = where.map((l) =>
            l.depth_mm === null ? quantityName(l.quantity) : figure(l.depth_mm, units, "depth"),
          );
          return (
            <Box key={rule.flag} mb="2" maxW="80ch">
              <Box as="dt" fontWeight="600" display="inline">
                {rule.name}
              </Box>{" "}
              <Text as="span" color="inkSoft">
                at {depths.join(", ")} {measure(units, "depth").label} –{" "}
                {rule.doubted ? "not used" : "noted, still used"}
              </Text>
              <Box as="dd">
                {rule.meaning}. Likely: {rule.likely}.
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
