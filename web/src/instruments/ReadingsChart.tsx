import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { axisInk, colour, DASHES, FACE, TONES, timeTicks } from "../draw/plotStyle";
import type { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import type { ChartLine } from "./queries";
import { depthLabel, quantityName, unitName } from "./words";
import { t } from "./t";

interface Props {
  lines: ChartLine[];
  width: number;
  time: FarmTime;
  units: UnitSystem;
  /** Seconds since 1970 of the stretch that was drawn over; null: back to the whole. */
  zoom: (range: [number, number] | null) => void;
}

/** Marks readings that are not trusted, on the plot's edge where they lie beyond it. */
function crosses(plot: uPlot, lines: ChartLine[], tones: string[]): void {
  const { ctx, bbox } = plot;
  const arm = 3.5 * devicePixelRatio;
  ctx.save();
  ctx.beginPath();
  ctx.rect(bbox.left, bbox.top, bbox.width, bbox.height);
  ctx.clip();
  ctx.lineWidth = 1.5 * devicePixelRatio;
  lines.forEach((line, j) => {
    ctx.strokeStyle = tones[j % tones.length] ?? "black";
    ctx.beginPath();
    let before = -Infinity;
    for (const [at, value] of line.doubts) {
      if (at === undefined || value === undefined) continue;
      const x = plot.valToPos(at, "x", true);
      // A long stretch stays a row of crosses, not a bar.
      if (x - before < 4 * arm) continue;
      before = x;
      const y = Math.min(
        Math.max(plot.valToPos(value, "y", true), bbox.top + arm),
        bbox.top + bbox.height - arm,
      );
      ctx.moveTo(x - arm, y - arm);
      ctx.lineTo(x + arm, y + arm);
      ctx.moveTo(x - arm, y + arm);
      ctx.lineTo(x + arm, y - arm);
    }
    ctx.stroke();
  });
  ctx.restore();
}

/** Readings by depth; what is not trusted as crosses. Draw over a stretch to look closer. */
export default function ReadingsChart({ lines, width, time, units, zoom }: Props) {
  const host = useRef<HTMLDivElement>(null);

  useEffect(() => {
    const first = lines[0];
    if (!host.current || !first) return undefined;
    const tones = TONES.map(colour);
    const soft = colour("ink-soft");
    // A channel whose readings are all doubted still needs its place in time.
    const tables = lines.map((line): uPlot.AlignedData => {
      if (line.times.length > 0) return [line.times, line.values];
      return [line.doubts.map((d) => d[0] ?? 0), line.doubts.map(() => null)];
    });
    const data = uPlot.join(tables);
    const plot = new uPlot(
      {
        width,
        height: 380,
        tzDate: (seconds) => uPlot.tzDate(new Date(seconds * 1000), time.zone),
        cursor: { drag: { x: true, y: false, setScale: false } },
        axes: [
          { ...axisInk(), values: (_, ticks) => timeTicks(time, ticks) },
          {
            ...axisInk(),
            ...(first.quantity === "theta"
              ? { values: (_: uPlot, at: number[]) => at.map((v) => v.toFixed(2)) }
              : {}),
            label: `${quantityName(first.quantity)}, ${unitName(first.unit)}`,
            labelFont: FACE,
            size: 64,
          },
        ],
        series: [
          {
            label: t("instruments.time"),
            value: (_, v) => (v === null ? "" : time.full(new Date(v * 1000))),
          },
          ...lines.map((line, j) => ({
            label: depthLabel(line.depth_mm, units),
            stroke: tones[j % tones.length] ?? soft,
            dash: DASHES[j % DASHES.length] ?? [],
            width: 1.6,
            spanGaps: false,
            points: { show: line.times.length < 80 },
            value: (_: uPlot, v: number | null) => (v === null ? "–" : String(v)),
          })),
        ],
        hooks: {
          draw: [(drawn) => crosses(drawn, lines, tones)],
          setSelect: [
            (drawn) => {
              if (drawn.select.width < 5) return;
              const from = drawn.posToVal(drawn.select.left, "x");
              const to = drawn.posToVal(drawn.select.left + drawn.select.width, "x");
              drawn.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
              zoom([from, to]);
            },
          ],
        },
      },
      data,
      host.current,
    );
    const back = () => zoom(null);
    plot.over.addEventListener("dblclick", back);
    return () => {
      plot.over.removeEventListener("dblclick", back);
      plot.destroy();
    };
  }, [lines, width, time, units, zoom]);

  return (
    <Box
      ref={host}
      css={{
        "& .u-legend": { fontFamily: "body", fontSize: "13px", fontWeight: 400 },
        "& .u-legend th": { fontWeight: 400 },
      }}
    />
  );
}
