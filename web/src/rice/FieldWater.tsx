import { Box, Heading, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { useWidth } from "../draw/useWidth";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import type { LevelPoint, Ponded } from "./queries";
import { t } from "./t";
import { levelFigure, levelWords } from "./words";

const HEIGHT = 250;
const LEFT = 62;
const FOOT = 22;
const NARROW = 560;
const PAST_HOURS = 168;
const AHEAD_HOURS = 120;
/** No tube reaches deeper: what is drawn below would be a guess. */
const DEEPEST_MM = -320;

interface Props {
  levels: LevelPoint[];
  ponded: Ponded;
  sets: { start_hours: number; end_hours: number }[];
  time: FarmTime;
}

/** The field in section: water over and under the ground, as the tubes have it and as it will go. */
export function FieldWater({ levels, ponded, sets, time }: Props) {
  const { units } = useSignedIn();
  const [measure, width] = useWidth();
  return (
    <Box as="section" aria-labelledby="field-water">
      <Heading as="h2" id="field-water" size="lg">
        {t("rice.fieldWater")}
      </Heading>
      <Box ref={measure} mt="1">
        {width > 0 && (
          <Section
            levels={levels}
            ponded={ponded}
            sets={sets}
            time={time}
            units={units}
            width={width}
          />
        )}
      </Box>
      <Text fontSize="sm" color="inkSoft">
        {t("rice.chartNote")}
      </Text>
    </Box>
  );
}

const clipped = (mm: number) => Math.max(mm, DEEPEST_MM);

function Section({
  levels,
  ponded,
  sets,
  time,
  units,
  width,
}: Props & { units: UnitSystem; width: number }) {
  const shown = levels.filter((p) => p.hours >= -PAST_HOURS && p.hours <= AHEAD_HOURS);
  const known = shown.flatMap((p) => (p.level_mm === null ? [] : [clipped(p.level_mm)]));
  const wet = shown.flatMap((p) => (p.wet_mm === null ? [] : [p.wet_mm]));
  const top = Math.max(...known, ...wet, ponded.upper_mm) + 30;
  const bottom = Math.min(...known, ponded.threshold_mm) - 25;
  const x = scaleLinear().domain([-PAST_HOURS, AHEAD_HOURS]).range([LEFT, width]);
  const y = scaleLinear()
    .domain([Math.max(bottom, DEEPEST_MM), top])
    .range([HEIGHT - FOOT, 8]);
  const surface = y(0);
  const body = area<LevelPoint>()
    .defined((p) => p.level_mm !== null)
    .x((p) => x(p.hours))
    .y0(HEIGHT - FOOT)
    .y1((p) => y(clipped(p.level_mm ?? 0)));
  const fan = area<LevelPoint>()
    .defined((p) => p.dry_mm !== null && p.wet_mm !== null)
    .x((p) => x(p.hours))
    .y0((p) => y(clipped(p.dry_mm ?? 0)))
    .y1((p) => y(clipped(p.wet_mm ?? 0)));
  const course = line<LevelPoint>()
    .defined((p) => p.level_mm !== null && p.level_mm > DEEPEST_MM)
    .x((p) => x(p.hours))
    .y((p) => y(clipped(p.level_mm ?? 0)));
  const lower = line<LevelPoint>()
    .defined((p) => p.lower_mm !== null)
    .x((p) => x(p.hours))
    .y((p) => y(p.lower_mm ?? 0));
  const past = shown.filter((p) => p.dry_mm === null);
  const ahead = shown.filter((p) => p.dry_mm !== null);
  const days = midnights(time);
  // On a phone there is room for every second day.
  const named = width < NARROW ? 2 : 1;
  return (
    <svg
      width={width}
      height={HEIGHT}
      display="block"
      role="img"
      aria-label={t("rice.chartLabel", {
        level: ponded.level ? levelWords(ponded.level.middle, units) : t("rice.unknown"),
        lower: ponded.lower_mm === null ? t("rice.none") : levelWords(ponded.lower_mm, units),
      })}
    >
      <clipPath id="rice-frame">
        <rect x={LEFT} y={0} width={width - LEFT} height={HEIGHT - FOOT} />
      </clipPath>
      <g clipPath="url(#rice-frame)">
        <rect
          x={LEFT}
          y={surface}
          width={width - LEFT}
          height={HEIGHT}
          fill={ink("loam")}
          opacity={0.16}
        />
        <path d={body(past) ?? ""} fill={ink("waterRim")} opacity={0.75} />
        <path d={fan(ahead) ?? ""} fill={ink("waterRim")} opacity={0.8} />
        <line x1={LEFT} x2={width} y1={surface} y2={surface} stroke={ink("loam")} strokeWidth={2} />
        <path d={course(past) ?? ""} fill="none" stroke={ink("water")} strokeWidth={2.4} />
        <path
          d={course(ahead) ?? ""}
          fill="none"
          stroke={ink("water")}
          strokeWidth={2}
          strokeDasharray="1 4"
          strokeLinecap="round"
        />
        <path
          d={lower(ahead) ?? ""}
          fill="none"
          stroke={ink("rust")}
          strokeWidth={1.6}
          strokeDasharray="6 4"
        />
        {sets
          .filter((s) => s.end_hours > -PAST_HOURS && s.start_hours < AHEAD_HOURS)
          .map((s) => (
            <rect
              key={s.start_hours}
              x={x(s.start_hours)}
              width={Math.max(x(s.end_hours) - x(s.start_hours), 3)}
              y={0}
              height={6}
              fill={ink("water")}
            />
          ))}
      </g>
      <line x1={x(0)} x2={x(0)} y1={0} y2={HEIGHT - FOOT} stroke={ink("ink")} strokeWidth={1.6} />
      <g style={{ fontSize: 12 }} fill={ink("ink")}>
        {marks(ponded, bottom, top).map((mm) => (
          <text key={mm} x={LEFT - 6} y={y(mm) + 4} textAnchor="end">
            {mm === 0 ? t("rice.surface") : levelFigure(mm, units)}
          </text>
        ))}
        {days.map((d, k) => (
          <g key={d.hours}>
            <line
              x1={x(d.hours)}
              x2={x(d.hours)}
              y1={HEIGHT - FOOT}
              y2={HEIGHT - FOOT + 4}
              stroke={ink("ink")}
            />
            {(days.length - 1 - k) % named === 0 && (
              <text x={x(d.hours + 12)} y={HEIGHT - 6} textAnchor="middle">
                {d.words}
              </text>
            )}
          </g>
        ))}
      </g>
    </svg>
  );
}

/** Levels that are named at the side. */
function marks(ponded: Ponded, bottom: number, top: number): number[] {
  const wanted = [ponded.upper_mm, 0, ponded.threshold_mm, ponded.lower_mm ?? 0];
  return [...new Set(wanted)].filter((mm) => mm > bottom && mm < top);
}

/** The midnights in sight, with their days. */
function midnights(time: FarmTime): { hours: number; words: string }[] {
  const first = -(Math.floor(PAST_HOURS / 24) - 1) * 24 - time.hour(time.now);
  const count = Math.floor((PAST_HOURS + AHEAD_HOURS) / 24) - 1;
  return Array.from({ length: count }, (_, k) => {
    const hours = first + 24 * k;
    return { hours, words: time.day(time.at(hours + 12)) };
  });
}
