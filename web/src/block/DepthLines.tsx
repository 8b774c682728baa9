import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import type { SiteSeries } from "./queries";

interface Props {
  site: SiteSeries;
  width: number;
  time: FarmTime;
  units: UnitSystem;
}

const DASHES = [[], [8, 3], [2, 3], [10, 3, 2, 3], [5, 5], [1, 4]];

const FACE = "12px 'Atkinson Hyperlegible Next Variable', Verdana, sans-serif";

function shortDate(date: string): string {
  return date.replace(/(\w{3})\w+$/, "$1");
}

function colour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`);
}

/** Each depth as a line of its own, as read; drag to zoom, double click to see all again. */
export default function DepthLines({ site, width, time, units }: Props) {
  const host = useRef<HTMLDivElement>(null);

  useEffect(() => {
    if (!host.current || site.hours.length === 0) return undefined;
    const name = site.is_tension ? "tension" : "theta";
    const tones = ["straw", "water", "loam", "rust", "water-mid", "ink"].map(colour);
    const soft = colour("ink-soft");
    const rule = colour("rule");
    const now = time.now.getTime() / 1000;
    const columns = site.depth_mm.map((_, j) => site.value.map((row) => row[j] ?? null));
    const axis = {
      stroke: soft,
      grid: { stroke: rule, width: 1 },
      ticks: { stroke: rule, width: 1 },
      font: FACE,
    };
    const plot = new uPlot(
      {
        width,
        height: 330,
        tzDate: (seconds) => uPlot.tzDate(new Date(seconds * 1000), time.zone),
        axes: [
          {
            ...axis,
            // A day's name at midnight, the hour between.
            values: (_, ticks) =>
              ticks.map((seconds) => {
                const at = new Date(seconds * 1000);
                const clock = time.clock(at);
                return clock === "00:00" ? shortDate(time.date(at)) : clock;
              }),
          },
          {
            ...axis,
            label: `${site.is_tension ? "tension" : "water content"}, ${measure(units, name).label}`,
            labelFont: FACE,
            size: 64,
          },
        ],
        series: [
          { label: "time", value: (_, v) => (v === null ? "" : time.full(new Date(v * 1000))) },
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
  }, [site, width, time, units]);

  if (site.hours.length === 0) return <p>No readings in this stretch.</p>;
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
