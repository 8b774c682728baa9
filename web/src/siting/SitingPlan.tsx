import { Box } from "@chakra-ui/react";
import { useEffect, useRef, type KeyboardEvent, type PointerEvent } from "react";
import { linesOf, type Geometry } from "../map/planScale";
import { ink } from "../theme/system";
import { useThemeClass } from "../theme/useThemeClass";
import { AreaDraft, type Ring } from "./AreaDraft";
import { cellAt, metresOf, positionOf, valueOf, type Metres } from "./levels";
import { classOf, colourOf, pixels, RAMP, ramp } from "./paint";
import { planScale, type PlanScale } from "./planScale";
import type { RasterData, Siting } from "./queries";
import { t } from "./t";
import { useLevels } from "./useLevels";

export interface Shown {
  data: RasterData | null;
  /** The colours of classes where the raster is of classes and not of values. */
  classes: readonly string[] | null;
}

interface Props {
  siting: Siting;
  shown: Shown;
  width: number;
  flag: [number, number] | null;
  moveFlag: (at: [number, number]) => void;
  /** An area that is drawn: a click, or Enter at the flag, adds a corner to it. */
  draft?: Ring | null;
  addCorner?: (at: [number, number]) => void;
}

/** A block's layer on its plan, what a probe keeps away from, ranked spots, and a flag to move. */
export function SitingPlan({ siting, shown, width, flag, moveFlag, draft, addCorner }: Props) {
  const { raster } = siting;
  const plan = planScale(raster, width);
  const { at, height } = plan;
  const canvas = useRef<HTMLCanvasElement>(null);
  const levels = useLevels(shown.data);
  const scores = useLevels(siting.score);
  const theme = useThemeClass();
  const { classes } = shown;

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    element.width = raster.cols;
    element.height = raster.rows;
    if (!levels) return;
    const of = (classes ?? RAMP).map((token) => colourOf(token, theme));
    const colour =
      classes === null
        ? ramp(of)
        : (level: number) => of[classOf(level, of.length - 1)] ?? ([0, 0, 0] as const);
    context.putImageData(pixels(levels, raster.cols, raster.rows, colour), 0, 0);
  }, [levels, raster.cols, raster.rows, classes, theme]);

  const path = linesOf(siting.outline as unknown as Geometry)
    .map((ring) => `M${ring.map((p) => `${at(p).x},${at(p).y}`).join("L")}Z`)
    .join("");

  function pointed(event: PointerEvent<SVGSVGElement>): [number, number] {
    const box = event.currentTarget.getBoundingClientRect();
    return plan.position(event.clientX - box.left, event.clientY - box.top);
  }

  function press(event: KeyboardEvent) {
    if (event.key === "Enter" && draft && flag) {
      event.preventDefault();
      addCorner?.(flag);
      return;
    }
    const steps: Partial<Record<string, [number, number]>> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const step = steps[event.key];
    if (!step || !flag) return;
    event.preventDefault();
    const { x, y } = metresOf(raster, flag);
    moveFlag(
      positionOf(raster, { x: x + step[0] * raster.cell_m, y: y + step[1] * raster.cell_m }),
    );
  }

  // The flag that is moved covers one that stands where it is.
  const apart = (spot: { position: readonly number[] }) => spot.position.join() !== flag?.join();
  const here = flag && cellAt(raster, metresOf(raster, flag));
  const score =
    here !== null && here >= 0 && scores && siting.score
      ? valueOf(scores[here] ?? 0, siting.score)
      : null;
  return (
    <Box position="relative" w={`${width}px`} h={`${height}px`}>
      <canvas
        ref={canvas}
        aria-hidden
        style={{
          position: "absolute",
          left: plan.margin,
          top: plan.margin,
          width: plan.wide,
          height: plan.high,
          imageRendering: "pixelated",
        }}
      />
      {!draft && <Excluded siting={siting} plan={plan} />}
      <svg
        width={width}
        height={height}
        role="slider"
        aria-label={t("siting.planLabel")}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={score ?? 0}
        aria-valuetext={score === null ? t("siting.noScore") : String(Math.round(score))}
        tabIndex={0}
        style={{ position: "absolute", inset: 0, touchAction: "none", cursor: "crosshair" }}
        onPointerDown={(e) => {
          if (draft) {
            addCorner?.(pointed(e));
            return;
          }
          e.currentTarget.setPointerCapture(e.pointerId);
          moveFlag(pointed(e));
        }}
        onPointerMove={(e) => !draft && e.buttons === 1 && moveFlag(pointed(e))}
        onKeyDown={press}
      >
        <path d={path} fill="none" stroke={ink("ink")} strokeWidth={1.6} />
        {siting.spots.map((spot, i) => (
          <Numbered key={spot.position.join()} number={i + 1} {...at(spot.position)} />
        ))}
        {siting.chosen.filter(apart).map((spot) => (
          <Flag key={spot.id} {...at(spot.position)} label={spot.name} />
        ))}
        {flag && (
          <Flag
            {...at(flag)}
            label={score === null ? t("siting.noScore") : String(Math.round(score))}
            moving
          />
        )}
        {draft && <AreaDraft ring={draft} plan={plan} />}
      </svg>
    </Box>
  );
}

/** Cells that a probe keeps away from, hatched. */
function Excluded({ siting, plan }: { siting: Siting; plan: PlanScale }) {
  const { raster } = siting;
  const levels = useLevels(siting.excluded);
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeClass();
  const { scale } = plan;
  const wide = Math.round(plan.wide);
  const high = Math.round(plan.high);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context || !levels) return;
    element.width = wide;
    element.height = high;
    const [r, g, b] = colourOf("ink", theme);
    context.fillStyle = `rgb(${r} ${g} ${b} / 55%)`;
    const side = raster.cell_m * scale;
    context.beginPath();
    for (let row = 0; row < raster.rows; row++)
      for (let col = 0; col < raster.cols; col++)
        if (levels[row * raster.cols + col])
          context.rect(col * side, row * side, side + 0.5, side + 0.5);
    context.clip();
    for (let x = -high; x < wide; x += 7) {
      context.beginPath();
      context.moveTo(x, high);
      context.lineTo(x + high, 0);
      context.lineTo(x + high + 1.1, 0);
      context.lineTo(x + 1.1, high);
      context.fill();
    }
  }, [levels, raster, scale, wide, high, theme]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      style={{ position: "absolute", left: plan.margin, top: plan.margin, pointerEvents: "none" }}
    />
  );
}

function Numbered({ x, y, number }: Metres & { number: number }) {
  return (
    <g pointerEvents="none">
      <circle cx={x} cy={y} r={10} fill={ink("sheet")} stroke={ink("ink")} strokeWidth={1.5} />
      <text x={x} y={y + 4} textAnchor="middle" fill={ink("ink")} style={{ fontSize: 12 }}>
        {number}
      </text>
    </g>
  );
}

function Flag({ x, y, label, moving }: Metres & { label: string; moving?: boolean }) {
  return (
    <g pointerEvents="none">
      <line x1={x} x2={x} y1={y} y2={y - 26} stroke={ink("ink")} strokeWidth={2} />
      <path
        d={`M${x},${y - 26} h${Math.max(26, label.length * 7.5 + 10)} v15 h${-Math.max(26, label.length * 7.5 + 10)} Z`}
        fill={ink(moving ? "rust" : "sheet")}
        stroke={ink("ink")}
      />
      <text
        x={x + 5}
        y={y - 14.5}
        fill={ink(moving ? "sheet" : "ink")}
        style={{ fontSize: 12, fontWeight: 700 }}
      >
        {label}
      </text>
    </g>
  );
}
