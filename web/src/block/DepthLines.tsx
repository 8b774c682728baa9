import { Box } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { axisInk, colour, DASHES, FACE, TONES, timeTicks } from "../draw/plotStyle";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import type { SiteSeries } from "./queries";
import { t } from "./t";

interface Props {
  site: SiteSeries;
  width: number;
  time: FarmTime;
  units: UnitSystem;
}

/** Each depth as a line of its own, as read; drag to zoom, double click to see all again. */
export default function DepthLines({ site, width, time, units }: Props) {
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
