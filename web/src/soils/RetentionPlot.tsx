import { scaleLinear, scaleLog } from "d3-scale";
import { line } from "d3-shape";
import type { Schemas } from "../api/client";
import { LineKey } from "../draw/LineKey";
import { ink } from "../theme/system";
import { number } from "../units/format";
import type { HorizonIn, HorizonOut } from "./queries";
import { t } from "./t";

const WIDTH = 340;
const HEIGHT = 230;
const LEFT = 34;
const BOTTOM = 34;

/* Told apart by stroke and by name at their end, not by colour alone. */
const STROKES: Record<Schemas["CurveShape"], { colour: string; dash?: string; label: string }> = {
  power: { colour: "ink", label: t("soils.saxtonRawls") },
  "class means": { colour: "strawInk", dash: "6 3", label: t("soils.classMeans") },
  rosetta: { colour: "rust", dash: "2 3", label: t("soils.rosetta") },
  fitted: { colour: "water", dash: "9 3 2 3", label: t("soils.yourPoints") },
};

export const CURVE_NAMES: Record<Schemas["CurveShape"], string> = {
  power: t("soils.saxtonRawlsPowerCurve"),
  "class means": t("soils.vanGenuchtenClassMeans"),
  rosetta: t("soils.vanGenuchtenRosetta"),
  fitted: t("soils.vanGenuchtenFittedToYourPoints"),
};

interface Props {
  horizon: HorizonOut;
  tensions: number[];
  points: HorizonIn["points"];
}

/** Every retention curve of a horizon on one plot, the one in force drawn through its limits. */
export function RetentionPlot({ horizon, tensions, points = [] }: Props) {
  const most = Math.max(...horizon.curves.flatMap((c) => c.theta), horizon.theta_sat, 0.3);
  const x = scaleLog()
    .domain([1, 1500])
    .range([LEFT, WIDTH - 6]);
  const y = scaleLinear()
    .domain([0, Math.ceil(most * 10) / 10])
    .range([HEIGHT - BOTTOM, 6]);
  const path = line<number>()
    .x((_, i) => x(tensions[i] ?? 1))
    .y((v) => y(v));
  return (
    <figure style={{ margin: 0 }}>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        role="img"
        aria-label={t("soils.waterContentAgainstTensionByMethod")}
      >
        {[0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6]
          .filter((v) => v <= (y.domain()[1] ?? 0))
          .map((v) => (
            <g key={v}>
              <line x1={LEFT} x2={WIDTH - 6} y1={y(v)} y2={y(v)} stroke={ink("rule")} />
              <text
                x={LEFT - 5}
                y={y(v) + 4}
                textAnchor="end"
                fill={ink("inkSoft")}
                style={{ fontSize: 10 }}
              >
                {number(v, 1)}
              </text>
            </g>
          ))}
        {[1, 10, 33, 100, 1500].map((v) => (
          <text
            key={v}
            x={x(v)}
            y={HEIGHT - BOTTOM + 14}
            textAnchor={v === 1500 ? "end" : "middle"}
            fill={ink("inkSoft")}
            style={{ fontSize: 10 }}
          >
            {v}
          </text>
        ))}
        <text
          x={(LEFT + WIDTH) / 2}
          y={HEIGHT - 4}
          textAnchor="middle"
          fill={ink("inkSoft")}
          style={{ fontSize: 10 }}
        >
          {t("soils.tensionKpaDrier")}
        </text>
        {horizon.curves.map((c) => {
          const stroke = STROKES[c.shape];
          return (
            <path
              key={c.shape}
              d={path(c.theta) ?? ""}
              fill="none"
              stroke={ink(stroke?.colour ?? "ink")}
              strokeWidth={c.in_force ? 3 : 1.3}
              strokeDasharray={stroke?.dash}
            />
          );
        })}
        {points.map((p) => (
          <circle
            key={p.tension_kpa}
            cx={x(Math.max(p.tension_kpa, 1))}
            cy={y(p.theta)}
            r={4}
            fill={ink("paper")}
            stroke={ink("water")}
            strokeWidth={2}
          />
        ))}
        <g stroke={ink("ink")} strokeWidth={1.4} fill={ink("paper")}>
          <rect
            x={x(horizon.full_tension_kpa) - 4}
            y={y(horizon.theta_full) - 4}
            width={8}
            height={8}
          />
          <rect x={x(1500) - 8} y={y(horizon.theta_wilt) - 4} width={8} height={8} />
        </g>
      </svg>
      <figcaption style={{ fontSize: "12px" }}>
        {horizon.curves.map((c) => (
          <LineKey
            key={c.shape}
            colour={STROKES[c.shape].colour}
            dash={STROKES[c.shape].dash}
            strong={c.in_force}
            text={t("soils.labelInforceInForce", {
              label: STROKES[c.shape].label,
              inForce: c.in_force ? "yes" : "no",
            })}
          />
        ))}
        <span>{t("soils.fullAndWiltingInForce")}</span>
      </figcaption>
    </figure>
  );
}
