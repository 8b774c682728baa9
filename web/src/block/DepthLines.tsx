import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { axisInk, colour, DASHES, FACE, TONES, timeTicks } from "../draw/plotStyle";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import type { Wetting } from "../wettings/queries";
import type { Note } from "../notes/queries";
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
  choose: (wetting: number) => void;
  /** Of this site. */
  notes: Note[];
  /** The moment that was clicked last, near no event. */
  moment: Date | null;
  pick: (moment: Date) => void;
  /** Shaded: when the evidence of a finding was seen. */
  spans: Span[];
}

export interface Span {
  from: string;
  to: string;
}

/** Each depth as a line of its own, as read; drag to zoom, double click to see all again. Wetting
    events begin at the upright lines; a click near one chooses
    it, one elsewhere picks the moment. */
export default function DepthLines(props: Props) {
  const { site, width, time, units, wettings, chosen, choose, notes, moment, pick, spans } = props;
  const host = useRef<HTMLDivElement>(null);
  const drawn = useRef<uPlot>(null);
  // What is marked changes without a new plot: who has zoomed in stays where he is.
  const marked = useRef({ wettings, chosen, choose, notes, moment, pick, spans });

  useEffect(() => {
    marked.current = { wettings, chosen, choose, notes, moment, pick, spans };
    drawn.current?.redraw(false);
  }, [wettings, chosen, choose, notes, moment, pick, spans]);

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
          drawClear: [(own) => shade(own, marked.current.spans, colour("rust"))],
          draw: [
            (own) => {
              const { wettings: events, chosen: one } = marked.current;
              drawWettings(own, events, one, colour("water"));
              drawMoment(own, marked.current.moment, soft);
              drawNotes(own, marked.current.notes, site.depth_mm, tones, soft);
            },
          ],
          ready: [
            (own) =>
              onClick(own, (seconds, secondsPerPixel) => {
                const near = nearest(marked.current.wettings, seconds, NEAR_PX * secondsPerPixel);
                if (near) marked.current.choose(near.id);
                else marked.current.pick(new Date(seconds * 1000));
              }),
          ],
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
    drawn.current = plot;
    return () => {
      drawn.current = null;
      plot.destroy();
    };
  }, [site, width, time, units]);

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

/** An upright line at the moment that was clicked. */
function drawMoment(plot: uPlot, moment: Date | null, tone: string) {
  if (!moment) return;
  const { ctx, bbox } = plot;
  const x = plot.valToPos(moment.getTime() / 1000, "x", true);
  if (x < bbox.left || x > bbox.left + bbox.width) return;
  ctx.save();
  ctx.strokeStyle = tone;
  ctx.lineWidth = window.devicePixelRatio;
  ctx.setLineDash([]);
  ctx.beginPath();
  ctx.moveTo(x, bbox.top);
  ctx.lineTo(x, bbox.top + bbox.height);
  ctx.stroke();
  ctx.restore();
}

const NOTE_PX = 6;

/** A small flag at the top where a note was written, in the tone of its depth. */
function drawNotes(plot: uPlot, notes: Note[], depthMm: number[], tones: string[], soft: string) {
  const { ctx, bbox } = plot;
  const size = NOTE_PX * window.devicePixelRatio;
  ctx.save();
  for (const note of notes) {
    const x = plot.valToPos(new Date(note.at).getTime() / 1000, "x", true);
    if (x < bbox.left || x > bbox.left + bbox.width) continue;
    const depth = depthMm.findIndex((mm) => mm === note.depth_mm);
    ctx.fillStyle = (depth < 0 ? undefined : tones[depth % tones.length]) ?? soft;
    ctx.beginPath();
    ctx.moveTo(x - size, bbox.top);
    ctx.lineTo(x + size, bbox.top);
    ctx.lineTo(x, bbox.top + 2 * size);
    ctx.fill();
  }
  ctx.restore();
}

/** As near to a line as a finger or a pointer comes. */
const NEAR_PX = 10;
const DRAG_PX = 4;

/** Hears clicks that drag nothing, with the time under them. */
function onClick(plot: uPlot, hear: (seconds: number, secondsPerPixel: number) => void) {
  let began = 0;
  plot.over.addEventListener("mousedown", (e) => {
    began = e.clientX;
  });
  plot.over.addEventListener("click", (e) => {
    if (Math.abs(e.clientX - began) > DRAG_PX) return;
    const left = e.clientX - plot.over.getBoundingClientRect().left;
    const seconds = plot.posToVal(left, "x");
    hear(seconds, plot.posToVal(left + 1, "x") - seconds);
  });
}

/** The event that began nearest to a moment, if one did within reach. */
export function nearest(
  wettings: Wetting[],
  seconds: number,
  withinSeconds: number,
): Wetting | null {
  let best: Wetting | null = null;
  let apart = withinSeconds;
  for (const w of wettings) {
    const off = Math.abs(new Date(w.began_by).getTime() / 1000 - seconds);
    if (off <= apart) [best, apart] = [w, off];
  }
  return best;
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
