import { useState, type KeyboardEvent, type PointerEvent } from "react";
import { ink } from "../theme/system";
import type { Textures } from "./queries";
import { clamped, fromPoint, toPoint, TRIANGLE } from "./triangleScale";
import { t } from "./t";

interface Props {
  triangle: Textures["triangle"];
  sand: number | null;
  clay: number | null;
  choose: (sand: number, clay: number) => void;
}

/* Arrow keys walk the triangle: left and right along the sand axis, up and down in clay. */
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [1, 0],
  ArrowRight: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** The texture triangle: click or drag the mark, or walk it with the arrow keys. */
export function Triangle({ triangle, sand, clay, choose }: Props) {
  const [dragging, setDragging] = useState(false);
  const { width, height, left, right, top, bottom } = TRIANGLE;
  const mark = sand !== null && clay !== null ? toPoint(sand, clay) : null;

  function pick(event: PointerEvent<SVGSVGElement>) {
    const box = event.currentTarget.getBoundingClientRect();
    const scale = width / box.width;
    const at = fromPoint((event.clientX - box.left) * scale, (event.clientY - box.top) * scale);
    choose(at.sand, at.clay);
  }

  function walk(event: KeyboardEvent) {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const by = event.shiftKey ? 5 : 1;
    const next = clamped((sand ?? 40) + step[0] * by, (clay ?? 20) + step[1] * by);
    choose(next.sand, next.clay);
  }

  const place = mark
    ? t("soils.sandSiltClay", {
        sand: sand ?? 0,
        silt: Math.round((100 - (sand ?? 0) - (clay ?? 0)) * 10) / 10,
        clay: clay ?? 0,
      })
    : t("soils.noTextureChosen");
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      role="slider"
      tabIndex={0}
      aria-label={t("soils.textureTriangle")}
      aria-valuetext={place}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={clay ?? 0}
      style={{ touchAction: "none", cursor: "crosshair", display: "block" }}
      onKeyDown={walk}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setDragging(true);
        pick(e);
      }}
      onPointerMove={(e) => dragging && pick(e)}
      onPointerUp={() => setDragging(false)}
    >
      {triangle.map((patch) => {
        const corners = patch.sand.map((s, i) => toPoint(s, patch.clay[i] ?? 0));
        const label = toPoint(patch.label_sand, patch.label_clay);
        return (
          <g key={patch.texture}>
            <polygon
              points={corners.map((p) => `${p.x},${p.y}`).join(" ")}
              fill={ink("sheet")}
              stroke={ink("loam")}
              strokeWidth={0.8}
            />
            <text
              x={label.x}
              y={label.y}
              textAnchor="middle"
              dominantBaseline="middle"
              fill={ink("inkSoft")}
              style={{ fontSize: 10 }}
            >
              {t(`texture.${patch.texture}`)
                .split(" ")
                .map((word, i, all) => (
                  <tspan key={word} x={label.x} dy={i === 0 ? (1 - all.length) * 5 : 10}>
                    {word}
                  </tspan>
                ))}
            </text>
          </g>
        );
      })}
      <polygon
        points={`${left},${bottom} ${right},${bottom} ${(left + right) / 2},${top}`}
        fill="none"
        stroke={ink("ink")}
        strokeWidth={1.3}
      />
      {[20, 40, 60, 80].map((v) => (
        <g key={v} fill={ink("inkSoft")} style={{ fontSize: 10 }}>
          <text x={toPoint(100 - v, v).x - 5} y={toPoint(100 - v, v).y + 3} textAnchor="end">
            {v}
          </text>
          <text x={toPoint(v, 0).x} y={bottom + 11} textAnchor="middle">
            {v}
          </text>
        </g>
      ))}
      <g fill={ink("ink")} style={{ fontSize: 11 }}>
        <text x={toPoint(50, 50).x - 30} y={toPoint(50, 50).y - 4} textAnchor="end">
          {t("soils.clay")}
        </text>
        <text x={(left + right) / 2} y={bottom + 23} textAnchor="middle">
          {t("soils.sand")}
        </text>
      </g>
      {mark && (
        <g pointerEvents="none">
          <circle cx={mark.x} cy={mark.y} r={6} fill={ink("water")} stroke={ink("paper")} />
          <circle cx={mark.x} cy={mark.y} r={11} fill="none" stroke={ink("water")} />
        </g>
      )}
    </svg>
  );
}
