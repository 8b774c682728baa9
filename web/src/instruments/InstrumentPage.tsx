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
import { ReviewPanel } from "./ReviewPanel";
import { failed, lastWord, quantityName, trustedShare, worries } from "./words";
import { t } from "./t";

const ReadingsChart = lazy(() => import("./ReadingsChart"));

const STRETCHES = [
  { days: 7, label: t("instruments.n7Days") },
  { days: 30, label: t("instruments.n30Days") },
  { days: 150, label: t("instruments.season") },
];

export function InstrumentPage() {
  const { instrument: id } = useParams();
  const { farm } = useSignedIn();
  const found = useInstrument(farm.slug, Number(id));
  if (found.isPending) return <Loading what={t("instruments.loadingTheInstrument")} />;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  return <Instrument detail={found.data} />;
}

function Instrument({ detail }: { detail: Detail }) {
  const { farm, units } = useSignedIn();
  const time = useMemo(() => new FarmTime(detail.now, detail.time_zone), [detail]);
  const { health } = detail;
  const found = worries(health);
  return (
    <Box maxW="1500px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/farm/instruments`}>{t("instruments.instruments")}</Link>
      </Text>
      <Flex align="baseline" gap="3" wrap="wrap">
        <Heading as="h1" size="2xl" fontWeight="700">
          {health.label}
        </Heading>
        <Text color="inkSoft">
          {t("instruments.in", { kindName: health.kind_name })}{" "}
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
        {t("instruments.lastReading2", {
          status: t(`status.${health.status}`),
          lastWord: lastWord(health.last_at, time),
        })}
        {health.trusted !== null &&
          t("instruments.reliableThisWeek2", { trustedShare: trustedShare(health.trusted) })}
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
    <Box as="section" aria-label={t("instruments.readings")}>
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
              { value: "told", label: t("instruments.calibrated") },
              { value: "raw", label: t("instruments.raw") },
            ]}
          />
        </SegmentGroup.Root>
        {range ? (
          <Text fontSize="sm" color="inkSoft">
            {t("instruments.to", {
              full: time.full(new Date(range[0] * 1000)),
              full2: time.full(new Date(range[1] * 1000)),
            })}{" "}
            <LinkButton onClick={() => setRange(null)}>{t("instruments.showAll")}</LinkButton>
          </Text>
        ) : (
          <Text fontSize="sm" color="inkSoft">
            {t("instruments.dragAcrossTheChartToZoomIn")}
          </Text>
        )}
      </Flex>
      <Box ref={measured}>
        {chart.isPending && <Loading what={t("instruments.loadingTheReadings")} />}
        {chart.error && <Notice error={chart.error} retry={() => void chart.refetch()} />}
        {chart.data && !some && (
          <Text py="10" color="inkSoft">
            {t("instruments.noReadingsInThisPeriod")}
          </Text>
        )}
        {some &&
          width > 0 &&
          byQuantity.map(([quantity, lines]) => (
            <Suspense key={quantity} fallback={<Loading what={t("instruments.loadingTheChart")} />}>
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
            {t("instruments.isExcluded", {
              stepS:
                chart.data.step_s > 0
                  ? t("instruments.eachPointRepresentsHLowestAndHighest", {
                      round: Math.round(chart.data.step_s / 360) / 10,
                    })
                  : t("instruments.everyReadingIsDrawn"),
            })}
          </Text>
        )}
      </Box>
      {some && (
        <Text fontSize="sm" mt="1">
          {t("instruments.downloadThisPeriodAs")}{" "}
          {["csv", "json", "parquet"].map((form) => (
            <a
              key={form}
              href={`/api/farms/${farm.slug}/instruments/${detail.health.id}/export?${new URLSearchParams({ ...stretch, format: form })}`}
              style={{ textDecoration: "underline", marginInlineEnd: "0.7em" }}
            >
              {form === "parquet" ? t("instruments.parquet") : form.toUpperCase()}
            </a>
          ))}
        </Text>
      )}
      {chart.data && <Found lines={chart.data.lines} />}
      <ReviewPanel detail={detail} time={time} stretch={stretch} />
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
    <Box as="section" mt="5" aria-label={t("instruments.qualityChecks")}>
      <Heading as="h2" size="md">
        {t("instruments.qualityChecks")}
      </Heading>
      <Box as="ul" listStyleType="none" p="0" mt="1" fontSize="sm">
        {hit.map((rule) => {
          const where = lines.filter((l) => (l.noted & rule.flag) !== 0);
          const depths = where.map((l) =>
            l.depth_mm === null ? quantityName(l.quantity) : figure(l.depth_mm, units, "depth"),
          );
          return (
            <Box as="li" key={rule.flag} mb="2" maxW="80ch">
              <Text as="span" fontWeight="600">
                {rule.name}
              </Text>{" "}
              <Text as="span" color="inkSoft">
                {t("instruments.at", {
                  depths: depths.join(", "),
                  label: measure(units, "depth").label,
                  doubted: rule.doubted ? "yes" : "no",
                })}
              </Text>
              <Box>{t("instruments.likely", { meaning: rule.meaning, likely: rule.likely })}</Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
