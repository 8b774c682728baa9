import { Box, Heading, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { useWidth } from "../draw/useWidth";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, withUnit, type UnitSystem } from "../units/format";
import type { LeafPoint, LeafSaid, StemRound } from "./queries";
import { t } from "./t";

const HEIGHT = 270;
const LEFT = 48;
const FOOT = 22;
const PAST_HOURS = 42 * 24;
const AHEAD_HOURS = 10 * 24;
const WEEK_HOURS = 168;
const NARROW = 560;
const MARKS = [-0.2, -0.4, -0.6, -0.8, -1, -1.2, -1.4, -1.6, -1.8, -2];

interface Props {
  points: LeafPoint[];
  said: LeafSaid;
  rounds: StemRound[];
  sets: { start_hours: number; end_hours: number }[];
  time: FarmTime;
}

/** The leaf of the season: rounds as they were read, the band, and where the soil takes it. */
export function LeafChart(props: Props) {
  const { units } = useSignedIn();
  const [measureWidth, width] = useWidth();
  return (
    <Box as="section" aria-labelledby="leaf-course">
      <Heading as="h2" id="leaf-course" size="lg">
        {t("leaf.course")}
      </Heading>
      <Box ref={measureWidth} mt="1">
        {width > 0 && <Course {...props} units={units} width={width} />}
      </Box>
      <Text fontSize="sm" color="inkSoft">
        {t("leaf.courseNote")}
      </Text>
    </Box>
  );
}

/** A round that lies within the chart, with its place in time. */
interface Dot {
  round: StemRound;
  hours: number;
  mpa: number;
}

function dotsOf(rounds: StemRound[], time: FarmTime): Dot[] {
  return rounds.flatMap((round) => {
    const hours = time.hoursTo(new Date(round.started_at));
    return round.mpa === null || hours < -PAST_HOURS ? [] : [{ round, hours, mpa: round.mpa }];
  });
}

function Course({
  points,
  said,
  rounds,
  sets,
  time,
  units,
  width,
}: Props & { units: UnitSystem; width: number }) {
  const dots = dotsOf(rounds, time);
  const known = [
    ...points.flatMap((p) => [p.mpa ?? p.lower_mpa, p.dry_mpa ?? p.lower_mpa, p.upper_mpa]),
    ...dots.flatMap((d) => [d.mpa - (d.round.sd_mpa ?? 0), d.mpa + (d.round.sd_mpa ?? 0)]),
  ];
  const low = Math.min(...known) - 0.08;
  const high = Math.min(Math.max(...known) + 0.08, 0);
  const x = scaleLinear().domain([-PAST_HOURS, AHEAD_HOURS]).range([LEFT, width]);
  const y = scaleLinear()
    .domain([low, high])
    .range([HEIGHT - FOOT, 10]);
  const band = area<LeafPoint>()
    .x((p) => x(p.hours))
    .y0((p) => y(p.lower_mpa))
    .y1((p) => y(p.upper_mpa));
  const edge = (of: "lower_mpa" | "upper_mpa") =>
    line<LeafPoint>()
      .x((p) => x(p.hours))
      .y((p) => y(p[of]))(points) ?? "";
  const fan = area<LeafPoint>()
    .defined((p) => p.dry_mpa !== null && p.wet_mpa !== null)
    .x((p) => x(p.hours))
    .y0((p) => y(Math.max(p.dry_mpa ?? 0, low)))
    .y1((p) => y(p.wet_mpa ?? 0));
  const course = line<LeafPoint>()
    .defined((p) => p.mpa !== null)
    .x((p) => x(p.hours))
    .y((p) => y(Math.max(p.mpa ?? 0, low)));
  const past = points.filter((p) => p.hours <= 0);
  const ahead = points.filter((p) => p.hours >= 0);
  const weeks = Array.from({ length: 7 }, (_, k) => -6 * WEEK_HOURS + k * WEEK_HOURS);
  const named = width < NARROW ? 2 : 1;
  return (
    <svg
      width={width}
      height={HEIGHT}
      display="block"
      role="img"
      aria-label={t("leaf.courseLabel", {
        now: withUnit(said.now.middle, units, "stem"),
        upper: withUnit(said.band_upper, units, "stem"),
        lower: withUnit(said.band_lower, units, "stem"),
        rounds: dots.length,
      })}
    >
      <clipPath id="leaf-frame">
        <rect x={LEFT} y={0} width={width - LEFT} height={HEIGHT - FOOT} />
      </clipPath>
      <g clipPath="url(#leaf-frame)">
        <path d={band(points) ?? ""} fill={ink("loam")} opacity={0.13} />
        <path d={edge("upper_mpa")} fill="none" stroke={ink("loam")} strokeWidth={1.4} />
        <path
          d={edge("lower_mpa")}
          fill="none"
          stroke={ink("rust")}
          strokeWidth={1.6}
          strokeDasharray="6 4"
        />
        <path d={fan(ahead) ?? ""} fill={ink("waterRim")} opacity={0.8} />
        <path d={course(past) ?? ""} fill="none" stroke={ink("water")} strokeWidth={1.6} />
        <path
          d={course(ahead) ?? ""}
          fill="none"
          stroke={ink("water")}
          strokeWidth={2}
          strokeDasharray="1 4"
          strokeLinecap="round"
        />
        {sets
          .filter((s) => s.end_hours > -PAST_HOURS && s.start_hours < AHEAD_HOURS)
          .map((s) => (
            <rect
              key={s.start_hours}
              x={x(s.start_hours)}
              width={Math.max(x(s.end_hours) - x(s.start_hours), 2)}
              y={0}
              height={6}
              fill={ink("water")}
            />
          ))}
        {dots.map((d) => (
          <Reading key={d.round.id} dot={d} x={x(d.hours)} y={y} />
        ))}
      </g>
      <line x1={x(0)} x2={x(0)} y1={0} y2={HEIGHT - FOOT} stroke={ink("ink")} strokeWidth={1.6} />
      <g style={{ fontSize: 12 }} fill={ink("ink")}>
        {MARKS.filter((m) => m > low && m < high).map((m) => (
          <text key={m} x={LEFT - 6} y={y(m) + 4} textAnchor="end">
            {figure(m, units, "stem", units === "metric" ? 1 : 0)}
          </text>
        ))}
        <text x={LEFT - 6} y={HEIGHT - 6} textAnchor="end">
          {measure(units, "stem").label}
        </text>
        {weeks.map((hours, k) => (
          <g key={hours}>
            <line
              x1={x(hours)}
              x2={x(hours)}
              y1={HEIGHT - FOOT}
              y2={HEIGHT - FOOT + 4}
              stroke={ink("ink")}
            />
            {(weeks.length - 1 - k) % named === 0 && (
              <text x={x(hours)} y={HEIGHT - 6} textAnchor={k === 0 ? "start" : "middle"}>
                {k === weeks.length - 1 ? t("leaf.today") : time.day(time.at(hours))}
              </text>
            )}
          </g>
        ))}
      </g>
    </svg>
  );
}

/** A round: its mean, the spread of its plants; hollow where it does not count. */
function Reading({ dot, x, y }: { dot: Dot; x: number; y: (mpa: number) => number }) {
  const sd = dot.round.sd_mpa ?? 0;
  return (
    <g>
      <line
        x1={x}
        x2={x}
        y1={y(dot.mpa - sd)}
        y2={y(dot.mpa + sd)}
        stroke={ink("ink")}
        strokeWidth={1.2}
      />
      <rect
        x={x - 4.5}
        y={y(dot.mpa) - 4.5}
        width={9}
        height={9}
        transform={`rotate(45 ${x} ${y(dot.mpa)})`}
        fill={dot.round.believed ? ink("ink") : ink("sheet")}
        stroke={ink("ink")}
        strokeWidth={1.4}
      />
    </g>
  );
}
