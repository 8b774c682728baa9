import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { tickDigits } from "../draw/tickDigits";
import { useWidth } from "../draw/useWidth";
import { ink } from "../theme/system";
import { number } from "../units/format";
import type { Fit } from "./queries";
import { t } from "./t";

interface Props {
  points: { raw: number; theta: number }[];
  fit: Fit;
  rawLabel: string;
}

const HEIGHT = 260;
const RESIDUAL = 110;
const LEFT = 56;
const BOTTOM = 36;
const label = { fontSize: "12px", fill: ink("inkSoft") };

/** Samples with the chosen curve, and below it how far each lies off. */
export function CurvePlot({ points, fit, rawLabel }: Props) {
  const [measured, width] = useWidth();
  const raws = points.map((p) => p.raw);
  const x = scaleLinear([Math.min(...raws), Math.max(...raws)], [LEFT + 14, width - 14]).nice(5);
  const rawTicks = x.ticks(5);
  const top = Math.max(0.3, ...points.map((p) => p.theta), ...fit.line_theta);
  const y = scaleLinear([0, top], [HEIGHT - BOTTOM, 10]).nice(5);
  const off = Math.max(0.01, ...fit.residual.map(Math.abs));
  const r = scaleLinear([-off, off], [RESIDUAL - 10, 10]);
  const path = line<number>()
    .x((_, i) => x(fit.line_raw[i] ?? 0))
    .y((theta) => y(theta));
  return (
    <Box ref={measured}>
      {width > 0 && (
        <>
          <svg
            width={width}
            height={HEIGHT}
            role="img"
            aria-label={t("calibration.waterContentByWithTheCurve", {
              rawLabel,
              kind: t(`curve.${fit.kind}`),
            })}
          >
            {y.ticks(5).map((tick) => (
              <g key={tick}>
                <line x1={LEFT} x2={width} y1={y(tick)} y2={y(tick)} stroke={ink("rule")} />
                <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end" style={label}>
                  {tick.toFixed(2)}
                </text>
              </g>
            ))}
            {rawTicks.map((tick) => (
              <text
                key={tick}
                x={x(tick)}
                y={HEIGHT - BOTTOM + 16}
                textAnchor="middle"
                style={label}
              >
                {number(tick, tickDigits(rawTicks))}
              </text>
            ))}
            <path
              d={path(fit.line_theta) ?? ""}
              fill="none"
              stroke={ink("water")}
              strokeWidth={2}
            />
            {points.map((p, i) => (
              // oxlint-disable-next-line react/no-array-index-key
              <circle key={i} cx={x(p.raw)} cy={y(p.theta)} r={5} fill={ink("loam")} />
            ))}
            <text x={width - 4} y={HEIGHT - 4} textAnchor="end" style={label}>
              {rawLabel}
            </text>
          </svg>
          <Text fontSize="sm" color="inkSoft">
            {t("calibration.waterContentMMBelowHowFar")}
          </Text>
          <svg width={width} height={RESIDUAL} role="img" aria-label={t("calibration.residuals")}>
            {[-off, 0, off].map((tick) => (
              <g key={tick}>
                <line
                  x1={LEFT}
                  x2={width}
                  y1={r(tick)}
                  y2={r(tick)}
                  stroke={ink(tick === 0 ? "inkSoft" : "rule")}
                />
                <text x={LEFT - 6} y={r(tick) + 4} textAnchor="end" style={label}>
                  {tick === 0 ? "0" : `${tick > 0 ? "+" : "−"}${Math.abs(tick).toFixed(3)}`}
                </text>
              </g>
            ))}
            {points.map((p, i) => (
              <line
                // oxlint-disable-next-line react/no-array-index-key
                key={i}
                x1={x(p.raw)}
                x2={x(p.raw)}
                y1={r(0)}
                y2={r(fit.residual[i] ?? 0)}
                stroke={ink("loam")}
                strokeWidth={6}
              />
            ))}
          </svg>
        </>
      )}
    </Box>
  );
}
