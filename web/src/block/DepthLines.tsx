import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { axisInk, colour, DASHES, FACE, TONES, timeTicks } from "../draw/plotStyle";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import type { Wetting } from "../wettings/queries";
import type { SiteSeries } from "./queries";
import { t } from "./t";

interface Props {
  site: SiteSeries;
  width: number;
  time: FarmTime;
  units: UnitSystem;
  /** Of this site, in order of arrival. */
  wettings: Wetting[];
  chosen: number | null;
  /** Shaded: when the evidence of a finding was seen. */
  spans: Span[];
}

export interface Span {
  from: string;
  to: string;
}

/** Each depth as a line of its own, as read; drag to zoom, double click to see all again. Wetting
    events begin at the upright lines. */
export default function DepthLines({ site, width, time, units, wettings, chosen, spans }: Props) {
  const host = useRef<HTMLDivElement>(null);

  useEffect(() => {
    if (!host.current || site.hours.length === 0) return undefined;
    const name = site.is_tension ? "tension" : "theta";
    const tones = TONES.map(colour);
    const soft = colour("ink-soft");
    const now = time.now.getTime() / 1000;
    const columns = site.depth_mm.map((_, j) => site.value.map((row) => row[j] ?? null));
    const plot = new uPlot(
      {
        width,
        height: 330,
        tzDate: (seconds) => uPlot.tzDate(new Date(seconds * 1000), time.zone),
        axes: [
          { ...axisInk(), values: (_, ticks) => timeTicks(time, ticks) },
          {
            ...axisInk(),
            label: t("block.istensionTensionWaterContent", {
              isTension: site.is_tension ? "yes" : "no",
              label: measure(units, name).label,
            }),
            labelFont: FACE,
            size: 64,
          },
        ],
        hooks: {
          drawClear: [(drawn) => shade(drawn, spans, colour("rust"))],
          draw: [(drawn) => drawWettings(drawn, wettings, chosen, colour("water"))],
        },
        series: [
          {
            label: t("block.time"),
            value: (_, v) => (v === null ? "" : time.full(new Date(v * 1000))),
          },
          ...site.depth_mm.map((mm, j) => ({
            label: `${figure(mm, units, "depth")} ${measure(units, "depth").label}`,
            stroke: tones[j % tones.length] ?? soft,
            dash: DASHES[j % DASHES.length] ?? [],
            width: 2,
            spanGaps: false,
            value: (_: uPlot, v: number | null) => figure(v, units, name),
          })),
        ],
      },
      [site.hours.map((h) => now + h * 3600), ...columns],
      host.current,
    );
    return () => plot.destroy();
  }, [site, width, time, units, wettings, chosen, spans]);

  if (site.hours.length === 0) return <p>{t("block.noReadingsInThisPeriod")}</p>;
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

const SHADE = 0.14;
const NARROWEST_PX = 3;

/** A pale band over each span of time. */
function shade(plot: uPlot, spans: Span[], tone: string) {
  const { ctx, bbox } = plot;
  ctx.save();
  ctx.fillStyle = tone;
  ctx.globalAlpha = SHADE;
  for (const span of spans) {
    const [from, to] = [span.from, span.to].map((at) => {
      const x = plot.valToPos(new Date(at).getTime() / 1000, "x", true);
      return Math.min(Math.max(x, bbox.left), bbox.left + bbox.width);
    }) as [number, number];
    ctx.fillRect(from, bbox.top, Math.max(to - from, NARROWEST_PX), bbox.height);
  }
  ctx.restore();
}

/** An upright line where each wetting began, the chosen one's full. */
function drawWettings(plot: uPlot, wettings: Wetting[], chosen: number | null, tone: string) {
  const { ctx, bbox } = plot;
  ctx.save();
  ctx.strokeStyle = tone;
  for (const w of wettings) {
    const x = plot.valToPos(new Date(w.began_by).getTime() / 1000, "x", true);
    if (x < bbox.left || x > bbox.left + bbox.width) continue;
    const isChosen = w.id === chosen;
    ctx.lineWidth = (isChosen ? 2 : 1) * window.devicePixelRatio;
    ctx.setLineDash(isChosen ? [] : [2, 4]);
    ctx.beginPath();
    ctx.moveTo(x, bbox.top);
    ctx.lineTo(x, bbox.top + bbox.height);
    ctx.stroke();
  }
  ctx.restore();
}
