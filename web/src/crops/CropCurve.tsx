import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { ink } from "../theme/system";
import { figure, measure, number, type UnitSystem } from "../units/format";
import type { Crop } from "./queries";
import { t } from "./t";

const WIDTH = 560;
const HEIGHT = 250;
const LEFT = 40;
const MIDDLE = 132;

/** Kc above, roots below, over the crop's own calendar, with its critical windows. */
export function CropCurve({ crop, units }: { crop: Crop; units: UnitSystem }) {
  const days = crop.curve_kc.length - 1;
  const x = scaleLinear()
    .domain([0, days])
    .range([LEFT, WIDTH - 8]);
  const kcY = scaleLinear()
    .domain([0, Math.max(...crop.curve_kc, 1.2)])
    .range([MIDDLE - 14, 14]);
  const rootY = scaleLinear()
    .domain([0, Math.max(...crop.curve_root_mm)])
    .range([MIDDLE + 14, HEIGHT - 24]);
  const ends = crop.stage_days.reduce<number[]>((all, d) => [...all, (all.at(-1) ?? 0) + d], []);
  const dayOf = (place: number) => {
    const stage = Math.min(Math.floor(place), 3);
    const start = stage === 0 ? 0 : (ends[stage - 1] ?? 0);
    return start + (place - stage) * (crop.stage_days[stage] ?? 0);
  };
  const kc = line<number>()
    .x((_, i) => x(i))
    .y((v) => kcY(v));
  const root = line<number>()
    .x((_, i) => x(i))
    .y((v) => rootY(v));
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="img"
      aria-label={t("crops.cropCoefficientAndRootsThroughThe")}
    >
      {crop.windows
        .filter((w) => w.ky >= 0.8)
        .map((w) => (
          <g key={w.name}>
            <rect
              x={x(dayOf(w.start))}
              y={12}
              width={x(dayOf(w.end)) - x(dayOf(w.start))}
              height={MIDDLE - 24}
              fill={ink("bed")}
            />
            <text
              x={x(dayOf(w.start)) + 4}
              y={MIDDLE - 17}
              fill={ink("strawInk")}
              style={{ fontSize: 10 }}
            >
              {t("crops.ky", { name: w.name, ky: number(w.ky, 2) })}
            </text>
          </g>
        ))}
      {ends.map((d, i) => (
        <g key={d}>
          <line
            x1={x(d)}
            x2={x(d)}
            y1={12}
            y2={HEIGHT - 20}
            stroke={ink("rule")}
            strokeDasharray="2 3"
          />
          <text
            x={x(d - (crop.stage_days[i] ?? 0) / 2)}
            y={HEIGHT - 4}
            textAnchor="middle"
            fill={ink("inkSoft")}
            style={{ fontSize: 10 }}
          >
            {crop.stage_days[i]} d
          </text>
        </g>
      ))}
      <path d={kc(crop.curve_kc) ?? ""} fill="none" stroke={ink("water")} strokeWidth={2.4} />
      <line x1={LEFT} x2={WIDTH - 8} y1={MIDDLE + 14} y2={MIDDLE + 14} stroke={ink("loam")} />
      <path
        d={`${root(crop.curve_root_mm) ?? ""}L${x(days)},${MIDDLE + 14}L${x(0)},${MIDDLE + 14}Z`}
        fill={ink("bed")}
        stroke={ink("loam")}
        strokeWidth={1.6}
      />
      <g fill={ink("inkSoft")} style={{ fontSize: 10 }}>
        <text x={0} y={20}>
          {t("crops.kc")}
        </text>
        {[0.5, 1].map((v) => (
          <text key={v} x={LEFT - 5} y={kcY(v) + 4} textAnchor="end">
            {v}
          </text>
        ))}
        <text x={0} y={MIDDLE + 30}>
          {t("crops.roots2")}
        </text>
        <text x={0} y={MIDDLE + 42}>
          {measure(units, "depth").label}
        </text>
        <text x={LEFT - 5} y={HEIGHT - 22} textAnchor="end">
          {figure(Math.max(...crop.curve_root_mm), units, "depth")}
        </text>
      </g>
    </svg>
  );
}
