import { scaleLinear } from "d3-scale";
import { useState, type PointerEvent } from "react";
import { ink } from "../theme/system";
import { figure, measure, number, type UnitSystem } from "../units/format";
import type { HorizonIn, SeenOnBlock, SoilPreview } from "./queries";
import { t } from "./t";

const WIDTH = 250;
const HEIGHT = 430;
const LEFT = 40;
const TOP = 22;
const STEP_MM = 10;

interface Props {
  horizons: HorizonIn[];
  preview: SoilPreview | undefined;
  /** Full points that sensors have shown, of the profile as it is saved. */
  seen: readonly SeenOnBlock[];
  chosen: number;
  choose: (index: number) => void;
  move: (index: number, bottomMm: number) => void;
  units: UnitSystem;
}

/** A full point that sensors have shown, in words. */
export function seenWords({ block, seen, low, high }: SeenOnBlock): string {
  return t("soils.seenOnBlock", {
    block,
    seen: number(seen, 3),
    low: number(low, 3),
    high: number(high, 3),
  });
}

/** The profile: wilting to full by depth. Click a horizon to edit it, drag its foot to move it. */
export function ProfileDrawing({ horizons, preview, seen, chosen, choose, move, units }: Props) {
  const [dragging, setDragging] = useState<number | null>(null);
  const deepest = Math.max(...horizons.map((h) => h.bottom_mm), 300);
  // The scale stands still while a border is dragged, or it would run away from the hand.
  const [held, setHeld] = useState(deepest);
  const bottom = dragging === null ? deepest : held;
  const y = scaleLinear()
    .domain([0, bottom * 1.06])
    .range([TOP, HEIGHT - 6]);
  const x = scaleLinear()
    .domain([0, 0.6])
    .range([LEFT, WIDTH - 4]);
  const fits = preview?.horizons.length === horizons.length;

  function drag(event: PointerEvent<SVGSVGElement>) {
    if (dragging === null) return;
    const box = event.currentTarget.getBoundingClientRect();
    const depth = y.invert(((event.clientY - box.top) * HEIGHT) / box.height);
    const above = horizons[dragging]?.top_mm ?? 0;
    const below = horizons[dragging + 1]?.bottom_mm ?? 5000;
    const stepped = Math.round(depth / STEP_MM) * STEP_MM;
    move(dragging, Math.min(Math.max(stepped, above + STEP_MM), below - STEP_MM));
  }

  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="group"
      aria-label={t("soils.soilProfile")}
      style={{ display: "block", touchAction: "none" }}
      onPointerMove={drag}
      onPointerUp={() => setDragging(null)}
    >
      <text x={0} y={12} fill={ink("inkSoft")} style={{ fontSize: 11 }}>
        {measure(units, "depth").label}
      </text>
      {[0, 0.2, 0.4, 0.6].map((v) => (
        <text
          key={v}
          x={x(v)}
          y={12}
          textAnchor={v === 0.6 ? "end" : "middle"}
          fill={ink("inkSoft")}
          style={{ fontSize: 10 }}
        >
          {number(v, 1)}
        </text>
      ))}
      {horizons.map((h, i) => {
        const from = y(h.top_mm);
        const tall = Math.max(y(h.bottom_mm) - from, 1);
        const limits = fits ? preview?.horizons[i] : undefined;
        const on = i === chosen;
        return (
          <g
            key={`${i}-${horizons.length}`}
            onClick={() => choose(i)}
            style={{ cursor: "pointer" }}
            role="button"
            tabIndex={0}
            aria-pressed={on}
            aria-label={t("soils.horizonTo", {
              i: i + 1,
              texture: limits ? t(`texture.${limits.texture}`) : "",
              bottom: figure(h.bottom_mm, units, "depth"),
              label: measure(units, "depth").label,
            })}
            onKeyDown={(e) => {
              if (e.key === "Enter" || e.key === " ") {
                e.preventDefault();
                choose(i);
              }
            }}
          >
            <rect
              x={LEFT}
              y={from}
              width={WIDTH - LEFT - 4}
              height={tall}
              fill={ink(on ? "bed" : "bedAhead")}
              stroke={ink(on ? "ink" : "rule")}
              strokeWidth={on ? 1.6 : 1}
            />
            {limits && (
              <>
                <rect
                  x={x(limits.theta_wilt)}
                  y={from + 1}
                  width={Math.max(x(limits.theta_full) - x(limits.theta_wilt), 0)}
                  height={Math.max(tall - 2, 0)}
                  fill={ink("waterRim")}
                />
                <line
                  x1={x(limits.theta_full)}
                  x2={x(limits.theta_full)}
                  y1={from + 1}
                  y2={from + tall - 1}
                  stroke={ink("water")}
                  strokeWidth={2}
                />
                <line
                  x1={x(limits.theta_full - limits.sigma_full)}
                  x2={x(limits.theta_full + limits.sigma_full)}
                  y1={from + tall / 2}
                  y2={from + tall / 2}
                  stroke={ink("water")}
                />
                <line
                  x1={x(limits.theta_wilt)}
                  x2={x(limits.theta_wilt)}
                  y1={from + 1}
                  y2={from + tall - 1}
                  stroke={ink("strawInk")}
                  strokeWidth={1.4}
                  strokeDasharray="3 2"
                />
                {tall > 18 && (
                  <text x={LEFT + 5} y={from + 14} fill={ink("ink")} style={{ fontSize: 11.5 }}>
                    {t(`texture.${limits.texture}`)}
                  </text>
                )}
                {tall > 34 && (
                  <text x={LEFT + 5} y={from + 28} fill={ink("inkSoft")} style={{ fontSize: 10 }}>
                    {figure(
                      (limits.available_mm_per_m * (h.bottom_mm - h.top_mm)) / 1000,
                      units,
                      "water",
                      units === "metric" ? 0 : 2,
                    )}{" "}
                    {measure(units, "water").label}
                  </text>
                )}
              </>
            )}
            {fits &&
              seen
                .filter((s) => s.index === i)
                .map((s, k, all) => {
                  const at = from + (tall * (k + 1)) / (all.length + 1);
                  return (
                    <g key={s.block_id} stroke={ink("ink")}>
                      <line x1={x(s.low)} x2={x(s.high)} y1={at} y2={at} strokeWidth={1.4} />
                      <circle cx={x(s.seen)} cy={at} r={3.5} fill={ink("sheet")} strokeWidth={1.6}>
                        <title>{seenWords(s)}</title>
                      </circle>
                    </g>
                  );
                })}
            {h.stops_roots && (
              <path
                d={`M ${LEFT} ${from} H ${WIDTH - 4}`}
                stroke={ink("rust")}
                strokeWidth={4}
                strokeDasharray="7 4"
              />
            )}
          </g>
        );
      })}
      {horizons.map((h, i) => (
        <g key={`${i}-foot`}>
          <text
            x={LEFT - 6}
            y={y(h.bottom_mm) + 4}
            textAnchor="end"
            fill={ink("ink")}
            style={{ fontSize: 11 }}
          >
            {figure(h.bottom_mm, units, "depth")}
          </text>
          <rect
            x={LEFT}
            y={y(h.bottom_mm) - 5}
            width={WIDTH - LEFT - 4}
            height={10}
            fill="transparent"
            style={{ cursor: "ns-resize" }}
            aria-hidden="true"
            onPointerDown={(e) => {
              e.stopPropagation();
              setHeld(deepest);
              setDragging(i);
              choose(i);
            }}
          />
        </g>
      ))}
    </svg>
  );
}
