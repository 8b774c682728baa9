import { Box } from "@chakra-ui/react";
import { useEffect, useRef, type KeyboardEvent, type PointerEvent } from "react";
import { linesOf, type Geometry } from "../map/planScale";
import { ink } from "../theme/system";
import { useThemeClass } from "../theme/useThemeClass";
import { AreaDraft, type Ring } from "./AreaDraft";
import { metresOf } from "./levels";
import { nearestPoint, type OpenedPoints } from "./layerPoints";
import { colourOf } from "./paint";
import { planScale, type PlanScale } from "./planScale";
import type { LayerPoints } from "./queries";
import { t } from "./t";

/** Colours of the reasons, in the order of the server: used, and why a point is left out. */
export const REASONS = [
  "loam",
  "rule",
  "inkSoft",
  "water",
  "straw",
  "waterMid",
  "waterDeep",
  "rust",
  "ink",
] as const;
/** A tap this near to a point means it [px]. */
const REACH = 12;

/** Each point in the colour of what becomes of it; those that are left out lie over the others. */
function drawPoints(
  context: CanvasRenderingContext2D,
  points: OpenedPoints,
  plan: PlanScale,
  theme: "light" | "dark",
) {
  const colours = REASONS.map((token) => `rgb(${colourOf(token, theme).join(" ")})`);
  for (const out of [false, true])
    for (let i = 0; i < points.count; i++) {
      const why = points.why[i] ?? 0;
      if (why > 0 !== out) continue;
      const at = plan.px({ x: points.x[i] ?? 0, y: points.y[i] ?? 0 });
      context.fillStyle = colours[why] ?? "";
      const side = out && plan.wide > 400 ? 3 : 2;
      context.fillRect(at.x - side / 2, at.y - side / 2, side, side);
    }
}

interface Props {
  layer: LayerPoints;
  points: OpenedPoints;
  width: number;
  selected: number;
  /** What the selected point is. */
  words: string;
  select: (point: number) => void;
  draft: Ring | null;
  addCorner: (at: [number, number]) => void;
}

/** A layer's points where they were recorded, each in the colour of what becomes of it. */
export function PointPlan({
  layer,
  points,
  width,
  selected,
  words,
  select,
  draft,
  addCorner,
}: Props) {
  const { raster } = layer;
  const plan = planScale(raster, width);
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeClass();
  const high = Math.round(plan.height);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    element.width = width;
    element.height = high;
    drawPoints(context, points, planScale(raster, width), theme);
  }, [canvas, points, raster, width, high, theme]);

  const path = linesOf(layer.outline as unknown as Geometry)
    .map((ring) => `M${ring.map((p) => `${plan.at(p).x},${plan.at(p).y}`).join("L")}Z`)
    .join("");
  const marked =
    selected >= 0 && selected < points.count
      ? plan.px({ x: points.x[selected] ?? 0, y: points.y[selected] ?? 0 })
      : null;

  function point(event: PointerEvent<SVGSVGElement>) {
    const box = event.currentTarget.getBoundingClientRect();
    const at = plan.position(event.clientX - box.left, event.clientY - box.top);
    if (draft) addCorner(at);
    else select(nearestPoint(points, metresOf(raster, at), REACH / plan.scale));
  }

  /** From point to point in the order of the record. */
  function press(event: KeyboardEvent) {
    const step = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (step === 0 || points.count === 0) return;
    event.preventDefault();
    const next = (selected < 0 ? (step > 0 ? 0 : -1) : selected + step) + points.count;
    select(next % points.count);
  }

  return (
    <Box position="relative" w={`${width}px`} h={`${high}px`}>
      <canvas ref={canvas} aria-hidden style={{ position: "absolute", left: 0, top: 0 }} />
      <svg
        width={width}
        height={high}
        role="slider"
        aria-label={t("siting.pointPlanLabel")}
        aria-valuemin={0}
        aria-valuemax={points.count}
        aria-valuenow={selected + 1}
        aria-valuetext={selected < 0 ? t("siting.noPoint") : words}
        tabIndex={0}
        style={{ position: "absolute", inset: 0, cursor: draft ? "crosshair" : "pointer" }}
        onPointerDown={point}
        onKeyDown={press}
      >
        <path d={path} fill="none" stroke={ink("ink")} strokeWidth={1.4} pointerEvents="none" />
        {marked && (
          <circle
            cx={marked.x}
            cy={marked.y}
            r={8}
            fill="none"
            stroke={ink("rust")}
            strokeWidth={2.5}
            pointerEvents="none"
          />
        )}
        {draft && <AreaDraft ring={draft} plan={plan} />}
      </svg>
    </Box>
  );
}
