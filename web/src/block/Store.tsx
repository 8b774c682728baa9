import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { ink } from "../theme/system";
import { figure, measure, type UnitSystem } from "../units/format";
import { AHEAD_SHARE, LEFT } from "./frame";
import type { BlockData, Series } from "./queries";
import { t } from "./t";

const HEIGHT = 120;

interface Props {
  series: Series;
  block: BlockData;
  width: number;
  units: UnitSystem;
}

/** Water in the root zone against full and refill, with the days ahead fanning out. */
export function Store({ series, block, width, units }: Props) {
  const points = series.store;
  if (points.length === 0 || !block.limits) return null;
  const hours = series.days * 24;
  const past = Math.floor((width - LEFT) * (1 - AHEAD_SHARE));
  const now = LEFT + past;
  const x = scaleLinear().domain([-hours, 0]).range([LEFT, now]);
  // Ahead, below refill is shown as far as half of what may be used; the rest runs off the frame.
  const least = Math.min(...block.ahead.slice(0, 6).map((d) => d.usable_mm), 0);
  const floor = block.limits.refill_mm + Math.max(least, -block.limits.raw_mm / 2);
  const lows = [floor, ...points.flatMap((p) => [p.refill_mm, p.store_mm ?? p.refill_mm])];
  const highs = points.flatMap((p) => [p.full_mm, p.store_mm ?? p.full_mm]);
  const low = Math.min(...lows);
  const high = Math.max(...highs);
  const margin = (high - low) * 0.12 || 1;
  const y = scaleLinear()
    .domain([low - margin, high + margin])
    .range([HEIGHT - 4, 6]);

  const path = line<[number, number | null]>()
    .defined((p) => p[1] !== null)
    .x((p) => x(p[0]))
    .y((p) => y(p[1] ?? 0));
  const { full_mm, refill_mm } = block.limits;
  // Ahead: usable water above today's refill, in the same scale.
  const aheadX = scaleLinear().domain([0, 5]).range([now, width]);
  const days = block.ahead.slice(0, 6);
  const fan = line<{ day: number; mm: number }>()
    .x((p) => aheadX(p.day))
    .y((p) => y(refill_mm + p.mm));
  const dry = days.map((d) => ({ day: d.day, mm: d.dry_mm }));
  const wet = days.map((d) => ({ day: d.day, mm: d.wet_mm }));
  const fanShape = `${fan([...wet, ...dry.toReversed()]) ?? ""}Z`;

  // On a phone there is no room for them ahead of now.
  const labelAt = width - now > 76 ? width - 2 : now - 5;

  return (
    <svg
      width={width}
      height={HEIGHT}
      display="block"
      role="img"
      aria-label={t("block.waterInTheRootZoneFullAt", {
        full: figure(full_mm, units, "water", 0),
        refill: figure(refill_mm, units, "water", 0),
        label: measure(units, "water").label,
      })}
    >
      <path
        d={path(points.map((p) => [p.hours, p.full_mm])) ?? ""}
        fill="none"
        stroke={ink("ink")}
      />
      <path
        d={path(points.map((p) => [p.hours, p.refill_mm])) ?? ""}
        fill="none"
        stroke={ink("ink")}
        strokeDasharray="2 3"
      />
      <line x1={now} x2={width} y1={y(full_mm)} y2={y(full_mm)} stroke={ink("ink")} />
      <line
        x1={now}
        x2={width}
        y1={y(refill_mm)}
        y2={y(refill_mm)}
        stroke={ink("ink")}
        strokeDasharray="2 3"
      />
      {days.length > 1 && (
        // A frame of its own, so that what leaves it is cut off clean.
        <svg
          x={now}
          width={width - now}
          height={HEIGHT}
          viewBox={`${now} 0 ${width - now} ${HEIGHT}`}
        >
          <path d={fanShape} fill={ink("waterRim")} opacity={0.8} />
          <path
            d={fan(days.map((d) => ({ day: d.day, mm: d.usable_mm }))) ?? ""}
            fill="none"
            stroke={ink("water")}
            strokeWidth={2}
            strokeDasharray="1 4"
            strokeLinecap="round"
          />
        </svg>
      )}
      <path
        d={path(points.map((p) => [p.hours, p.store_mm])) ?? ""}
        fill="none"
        stroke={ink("water")}
        strokeWidth={2.4}
      />
      <line x1={now} x2={now} y1={0} y2={HEIGHT} stroke={ink("ink")} strokeWidth={1.6} />
      <g style={{ fontSize: 12 }} fill={ink("ink")} textAnchor="end">
        <text x={labelAt} y={y(full_mm) - 4}>
          {t("block.full2", { full: figure(full_mm, units, "water", units === "metric" ? 0 : 1) })}
        </text>
        <text x={labelAt} y={Math.min(y(refill_mm) + 14, HEIGHT - 1)}>
          {t("block.refill3", {
            refill: figure(refill_mm, units, "water", units === "metric" ? 0 : 1),
          })}
        </text>
      </g>
      <text x={0} y={14} style={{ fontSize: 12 }} fill={ink("inkSoft")}>
        {t("block.rootZoneWater")}
      </text>
      <text x={0} y={28} style={{ fontSize: 12 }} fill={ink("inkSoft")}>
        {measure(units, "water").label}
      </text>
    </svg>
  );
}
