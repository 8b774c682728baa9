import { scaleLinear } from "d3-scale";
import { ink } from "../theme/system";
import { number } from "../units/format";
import type { SiteRefill } from "./queries";
import { t } from "./t";

const HEIGHT = 200;
const LEFT = 40;
const TOP = 24;
const RIGHT = 16;
const BOTTOM = 36;
/** Shares of the available water that are drawn whatever was seen. */
const LEAST_SPAN: [number, number] = [0, 1];
const MOST_SHARE = 1.6;

interface Props {
  site: SiteRefill;
  width: number;
  /** Share of the available water gone at the refill point in force. */
  inForce: number;
}

/** Each dry day's use against the water gone before it, and the line that breaks. */
export function UptakePlot({ site, width, inForce }: Props) {
  const gone = site.days.map((d) => d.gone);
  const low = Math.min(LEAST_SPAN[0], ...gone);
  const high = Math.max(LEAST_SPAN[1], ...gone);
  const x = scaleLinear()
    .domain([low, high])
    .range([LEFT, width - RIGHT]);
  const y = scaleLinear()
    .domain([0, MOST_SHARE])
    .range([HEIGHT - BOTTOM, TOP])
    .clamp(true);
  const { break_gone: at, level, slope } = site;
  const broken =
    at !== null && level !== null && slope !== null
      ? [
          [low, level],
          [at, level],
          [high, level + slope * (high - at)],
        ]
      : [];
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={t("limits.uptakePlot", { instrument: site.instrument, days: site.days.length })}
      style={{ display: "block" }}
    >
      {y.ticks(4).map((share) => (
        <g key={share}>
          <line x1={LEFT} x2={width - RIGHT} y1={y(share)} y2={y(share)} stroke={ink("rule")} />
          <text x={LEFT - 6} y={y(share) + 4} textAnchor="end" fontSize={11} fill={ink("inkSoft")}>
            {number(share * 100, 0)}
          </text>
        </g>
      ))}
      {x.ticks(5).map((share) => (
        <text
          key={share}
          x={x(share)}
          y={HEIGHT - BOTTOM + 14}
          textAnchor="middle"
          fontSize={11}
          fill={ink("inkSoft")}
        >
          {number(share * 100, 0)}
        </text>
      ))}
      <text x={0} y={12} fontSize={12} fill={ink("ink")}>
        {t("limits.useAxis")}
      </text>
      <text
        x={(LEFT + width) / 2}
        y={HEIGHT - 5}
        textAnchor="middle"
        fontSize={12}
        fill={ink("ink")}
      >
        {t("limits.waterGonePercent")}
      </text>
      {site.days.map((d) => (
        <circle key={d.on} cx={x(d.gone)} cy={y(d.share)} r={2.6} fill={ink("water")}>
          <title>
            {t("limits.useOnDay", {
              on: d.on,
              share: number(d.share * 100, 0),
              gone: number(d.gone * 100, 0),
            })}
          </title>
        </circle>
      ))}
      <line
        x1={x(inForce)}
        x2={x(inForce)}
        y1={TOP}
        y2={HEIGHT - BOTTOM}
        stroke={ink("ink")}
        strokeDasharray="6 3"
      />
      <text x={x(inForce)} y={TOP - 4} textAnchor="middle" fontSize={11} fill={ink("ink")}>
        {t("limits.refillInForce")}
      </text>
      {broken.length > 0 && (
        <polyline
          points={broken.map(([a, b]) => `${x(a ?? 0)},${y(b ?? 0)}`).join(" ")}
          fill="none"
          stroke={ink("rust")}
          strokeWidth={2}
        />
      )}
      {at !== null && (
        <line
          x1={x(at)}
          x2={x(at)}
          y1={TOP}
          y2={HEIGHT - BOTTOM}
          stroke={ink("rust")}
          strokeDasharray="2 3"
        />
      )}
    </svg>
  );
}
