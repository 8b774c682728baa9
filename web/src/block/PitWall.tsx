import { Box, Text } from "@chakra-ui/react";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useEffect, useState } from "react";
import { GivenMarks } from "../draw/GivenMarks";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import type { Wetting } from "../wettings/queries";
import { WettingMarks } from "../wettings/WettingMarks";
import type { Series, SiteSeries } from "./queries";
import { AHEAD_SHARE, LEFT } from "./frame";
import { WallLegend } from "./WallLegend";
import { wallDepth, wallPixels } from "./wall";
import { t } from "./t";

interface Props {
  series: Series;
  site: SiteSeries;
  width: number;
  time: FarmTime;
  units: UnitSystem;
  /** Of this site, in order of arrival. */
  wettings: Wetting[];
  chosen: number | null;
  choose: (id: number | null) => void;
}

const HEIGHT = 250;
const TOP = 18;

/** Looking at the wall of a soil pit: time across, depth down, wetness as colour. */
export function PitWall({ series, site, width, time, units, wettings, chosen, choose }: Props) {
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  const inner = Math.max(width - LEFT, 50);
  const past = Math.floor(inner * (1 - AHEAD_SHARE));
  const { days } = series;
  const hours = days * 24;
  const roots = series.store.map((p) => p.root_mm);
  const deepestRoot = Math.max(...roots, ...series.root_ahead_mm, 0);
  const depth = wallDepth(site, deepestRoot, series.profile_depth_mm);
  const x = scaleLinear()
    .domain([-hours, 0])
    .range([LEFT, LEFT + past]);
  const y = scaleLinear()
    .domain([0, depth])
    .range([TOP, TOP + HEIGHT]);
  useEffect(() => {
    const context = canvas?.getContext("2d");
    if (!context) return;
    const pixels = wallPixels(site, days, depth, past, HEIGHT);
    context.putImageData(new ImageData(pixels, past, HEIGHT), 0, 0);
  }, [canvas, site, days, depth, past]);

  const front = line();
  const behind = front(series.store.map((p) => [x(p.hours), y(p.root_mm)])) ?? "";
  const ahead =
    front(series.root_ahead_mm.map((mm, day) => [Math.min(x(day * 24), width), y(mm)])) ?? "";
  const lastRoot = roots.at(-1);

  return (
    <Box>
      <Box position="relative" h={`${HEIGHT + TOP + 6}px`}>
        <Box
          position="absolute"
          left={`${LEFT}px`}
          top={`${TOP}px`}
          w={`${past}px`}
          h={`${HEIGHT}px`}
          bg="bed"
        />
        <canvas
          ref={setCanvas}
          width={past}
          height={HEIGHT}
          style={{ position: "absolute", left: LEFT, top: TOP }}
          aria-hidden
        />
        <svg
          width={width}
          height={HEIGHT + TOP + 6}
          style={{ position: "absolute", inset: 0 }}
          role="img"
          aria-label={t("block.wetnessByDepthAtOverDays", { label: site.label, days: series.days })}
        >
          <rect
            x={LEFT + past}
            y={TOP}
            width={Math.max(width - LEFT - past, 0)}
            height={HEIGHT}
            fill={ink("bedAhead")}
          />
          {site.depth_mm.map((mm, j) => {
            const doubt = site.doubt[j];
            return (
              <g key={mm} fill={doubt ? ink("rust") : ink("ink")}>
                <text
                  x={LEFT - 14}
                  y={y(mm) + 4}
                  textAnchor="end"
                  style={{ fontSize: 12, fontWeight: doubt ? 700 : 400 }}
                >
                  {figure(mm, units, "depth")}
                </text>
                <path
                  d={`M${LEFT - 3} ${y(mm)} l-8 -4 v8 z`}
                  fill={doubt ? ink("rust") : ink("straw")}
                />
                {doubt && (
                  <text
                    x={LEFT + past - 8}
                    y={y(mm) + 4}
                    textAnchor="end"
                    style={{ fontSize: 12, fontWeight: 700 }}
                    fill="#fff"
                  >
                    {t("block.excluded2", {
                      mm: figure(mm, units, "depth"),
                      label: measure(units, "depth").label,
                      doubt,
                    })}
                  </text>
                )}
              </g>
            );
          })}
          <path d={behind} fill="none" stroke="#fff" strokeWidth={2} />
          <path
            d={ahead}
            fill="none"
            stroke={ink("inkSoft")}
            strokeWidth={2}
            strokeDasharray="2 4"
          />
          {lastRoot !== undefined && (
            <text
              x={width - 4}
              y={y(lastRoot) - 7}
              textAnchor="end"
              style={{ fontSize: 12 }}
              fill={ink("ink")}
            >
              {t("block.roots", { lastRoot: figure(lastRoot, units, "depth") })}
            </text>
          )}
          <GivenMarks
            given={series.sets
              .filter((s) => s.start_hours > -hours)
              .map((s) => ({ x: x(s.start_hours), mm: s.gross_mm }))}
            now={LEFT + past}
            units={units}
          />
          <line
            x1={LEFT + past}
            x2={LEFT + past}
            y1={0}
            y2={HEIGHT + TOP + 6}
            stroke={ink("ink")}
            strokeWidth={1.6}
          />
          <text x={4} y={12} style={{ fontSize: 12 }} fill={ink("inkSoft")}>
            {measure(units, "depth").label}
          </text>
        </svg>
        <svg
          width={width}
          height={HEIGHT + TOP + 6}
          style={{ position: "absolute", inset: 0 }}
          role="group"
          aria-label={t("block.wettingEvents")}
        >
          <WettingMarks
            wettings={wettings.filter((w) => time.hoursTo(w.began_by) > -hours)}
            chosen={chosen}
            choose={choose}
            x={x}
            y={y}
            time={time}
            units={units}
          />
        </svg>
      </Box>
      <WallLegend />
      <Text color="inkSoft" fontSize="sm">
        {t("block.shareOfAvailableWaterByDepthWhite", {
          label: site.label,
          label2: measure(units, "water").label,
        })}
        {site.hours.length === 0 &&
          ` ${t("block.noReadingsSince", { hours: time.date(time.at(-hours)) })}`}
      </Text>
    </Box>
  );
}
