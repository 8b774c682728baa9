import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { shortDay } from "../limits/days";
import { LineKey } from "../draw/LineKey";
import { ink } from "../theme/system";
import { number } from "../units/format";
import { laid, months, type LaidBy, type Point } from "./laid";
import type { Course } from "./queries";
import { courseName } from "./words";
import { t } from "./t";

const HEIGHT = 330;
const LEFT = 44;
const RIGHT = 16;
const TOP = 28;
const BOTTOM = 40;
const STROKES = [
  { colour: "water", dash: undefined },
  { colour: "rust", dash: "9 3" },
  { colour: "straw", dash: "3 3" },
  { colour: "loam", dash: "9 3 2 3" },
];

export const strokeOf = (k: number) => STROKES[k % STROKES.length] ?? { colour: "ink", dash: "" };

interface Props {
  courses: Course[];
  by: LaidBy;
  width: number;
}

/** Available water left through seasons laid over each other. */
export function SeasonsPlot({ courses, by, width }: Props) {
  const lines = courses.map((c) => laid(c, by));
  const known = lines.flat().filter((p): p is Point => p !== null);
  const xs = known.map((p) => p.x);
  const lows = known.map((p) => Math.min(p.left, p.refill));
  const x = scaleLinear()
    .domain(xs.length ? [Math.min(...xs), Math.max(...xs)] : [0, 1])
    .range([LEFT, width - RIGHT]);
  const y = scaleLinear()
    .domain([Math.min(0, ...lows), Math.max(110, ...known.map((p) => p.left))])
    .range([HEIGHT - BOTTOM, TOP]);
  const path = (of: (p: Point) => number) =>
    line<Point | null>()
      .defined((p) => p !== null)
      .x((p) => x(p?.x ?? 0))
      .y((p) => y(p ? of(p) : 0));
  const [low = 0, high = 1] = x.domain();
  return (
    <figure style={{ margin: 0 }}>
      <p style={{ fontSize: "13px" }}>
        {courses.map((c, k) => (
          <LineKey
            key={c.season_id}
            text={courseName(c)}
            colour={strokeOf(k).colour}
            dash={strokeOf(k).dash}
            strong={k === 0}
          />
        ))}
        <span>{t("seasons.refillDotted")}</span>
      </p>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={t("seasons.plot", { count: courses.length })}
        style={{ display: "block" }}
      >
        <text x={4} y={14} fontSize={12} fill={ink("ink")}>
          {t("seasons.waterLeft")}
        </text>
        {y.ticks(5).map((share) => (
          <g key={share}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(share)} y2={y(share)} stroke={ink("rule")} />
            <text
              x={LEFT - 6}
              y={y(share) + 4}
              textAnchor="end"
              fontSize={11}
              fill={ink("inkSoft")}
            >
              {number(share, 0)}
            </text>
          </g>
        ))}
        {by === "date"
          ? months(low, high).map((m) => (
              <text
                key={m.x}
                x={x(m.x)}
                y={HEIGHT - BOTTOM + 16}
                textAnchor="middle"
                fontSize={11}
                fill={ink("inkSoft")}
              >
                {shortDay(m.date)}
              </text>
            ))
          : x.ticks(6).map((v) => (
              <text
                key={v}
                x={x(v)}
                y={HEIGHT - BOTTOM + 16}
                textAnchor="middle"
                fontSize={11}
                fill={ink("inkSoft")}
              >
                {number(v, 0)}
              </text>
            ))}
        {by !== "date" && (
          <text
            x={(LEFT + width) / 2}
            y={HEIGHT - 6}
            textAnchor="middle"
            fontSize={12}
            fill={ink("ink")}
          >
            {by === "days" ? t("seasons.byDays") : t("seasons.warmthAxis")}
          </text>
        )}
        {lines.map((points, k) => (
          <g key={courses[k]?.season_id} fill="none" stroke={ink(strokeOf(k).colour)}>
            <path d={path((p) => p.refill)(points) ?? ""} strokeWidth={1} strokeDasharray="1 4" />
            <path
              d={path((p) => p.left)(points) ?? ""}
              strokeWidth={k === 0 ? 2.4 : 1.6}
              strokeDasharray={strokeOf(k).dash}
            />
          </g>
        ))}
      </svg>
    </figure>
  );
}
