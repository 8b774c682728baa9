import { useEffect, useMemo, useState, type PointerEvent } from "react";
import type { State } from "../answer/types";
import { ink } from "../theme/system";
import type { UnitSystem } from "../units/format";
import { BlockLabel } from "./BlockLabel";
import { FeatureMark } from "./FeatureMark";
import {
  frameOf,
  linesOf,
  planOf,
  scaleBar,
  toLonLat,
  toMetres,
  type Geometry,
  type LonLat,
} from "./planScale";
import type { FarmMap, FeatureKind } from "./queries";
import { t } from "./t";

/** Areas lie on the blocks, lines above them; both under the blocks' names, and points above these. */
const LAYER_OF: Record<FeatureKind, 0 | 1 | 2> = {
  "soil zone": 0,
  building: 0,
  "wet spot": 0,
  "no probe": 0,
  pipe: 1,
  "tree line": 1,
  fence: 1,
  track: 1,
  pump: 2,
  instrument: 2,
  spring: 2,
  pivot: 2,
  gate: 2,
  "base station": 2,
};
const layer = (place: 0 | 1 | 2) =>
  (Object.keys(LAYER_OF) as FeatureKind[]).filter((kind) => LAYER_OF[kind] === place);
const LAYERS = [layer(0), layer(1), layer(2)] as const;

interface View {
  x: number;
  y: number;
  /** Metres across the width. */
  wide: number;
}

interface Props {
  map: FarmMap;
  /** How each block stands, where that is known. */
  states: ReadonlyMap<number, State>;
  extra: Geometry[];
  width: number;
  height: number;
  units: UnitSystem;
  chosen: number | null;
  choose: (block: number | null) => void;
  /** What opens a pump by its name; without it pumps are only shown. */
  choosePump?: ((name: string) => void) | undefined;
  /** Lines from what feeds to what is fed. */
  links?: [LonLat, LonLat][];
  /** Corners being drawn or edited; null when nobody draws. */
  draft: LonLat[] | null;
  closed: boolean;
  editing: boolean;
  setDraft: (draft: LonLat[]) => void;
}

/** The farm as a plain plan: its blocks and what stands beside them; no picture from elsewhere. */
export function PlanView(props: Props) {
  const {
    map,
    states,
    extra,
    width,
    height,
    units,
    chosen,
    choose,
    choosePump,
    links = [],
    draft,
    closed,
    editing,
    setDraft,
  } = props;
  const everything = useMemo(
    () => [
      ...map.blocks.flatMap((b) => (b.geometry ? [b.geometry as unknown as Geometry] : [])),
      ...map.features.map((f) => f.geometry as unknown as Geometry),
      ...extra,
    ],
    [map, extra],
  );
  const frame = useMemo(() => frameOf(everything), [everything]);
  const plan = useMemo(() => planOf(frame), [frame]);
  const whole = useMemo<View>(() => {
    const sw = toMetres(plan, [frame.west, frame.south]);
    const ne = toMetres(plan, [frame.east, frame.north]);
    const wide = Math.max(ne.x - sw.x, ((sw.y - ne.y) * width) / height, 200) * 1.12;
    return { x: 0, y: 0, wide };
  }, [frame, plan, width, height]);
  const [moved, setMoved] = useState<View | null>(null);
  const [grab, setGrab] = useState<{ x: number; y: number; view: View; far: boolean } | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [node, setNode] = useState<SVGSVGElement | null>(null);
  const view = moved ?? whole;
  const scale = width / view.wide;
  const px = (at: LonLat) => {
    const m = toMetres(plan, at);
    return { x: width / 2 + (m.x - view.x) * scale, y: height / 2 + (m.y - view.y) * scale };
  };
  const place = (event: { clientX: number; clientY: number }, box: DOMRect): LonLat =>
    toLonLat(plan, {
      x: view.x + (event.clientX - box.left - width / 2) / scale,
      y: view.y + (event.clientY - box.top - height / 2) / scale,
    });

  // React's own wheel listener is passive and could not keep the page from scrolling.
  useEffect(() => {
    if (!node) return undefined;
    function wheel(event: WheelEvent) {
      event.preventDefault();
      const box = (event.currentTarget as SVGSVGElement).getBoundingClientRect();
      const by = event.deltaY > 0 ? 1.2 : 1 / 1.2;
      const dx = (event.clientX - box.left - width / 2) / scale;
      const dy = (event.clientY - box.top - height / 2) / scale;
      setMoved({
        x: view.x + dx * (1 - by),
        y: view.y + dy * (1 - by),
        wide: Math.min(Math.max(view.wide * by, 30), whole.wide * 8),
      });
    }
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  });

  const path = (geometry: Geometry) =>
    linesOf(geometry)
      .map(
        (ring) =>
          `M${ring
            .map((p) => px(p))
            .map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`)
            .join("L")}`,
      )
      .join("");

  const drawing = draft !== null && !editing;
  function down(event: PointerEvent<SVGSVGElement>) {
    if (held !== null) return;
    setGrab({ x: event.clientX, y: event.clientY, view, far: false });
  }
  function move(event: PointerEvent<SVGSVGElement>) {
    const box = event.currentTarget.getBoundingClientRect();
    if (held !== null && draft) {
      setDraft(draft.map((p, i) => (i === held ? place(event, box) : p)));
      return;
    }
    if (!grab) return;
    const far = grab.far || Math.hypot(event.clientX - grab.x, event.clientY - grab.y) > 5;
    setGrab({ ...grab, far });
    if (far) {
      setMoved({
        ...grab.view,
        x: grab.view.x - (event.clientX - grab.x) / scale,
        y: grab.view.y - (event.clientY - grab.y) / scale,
      });
    }
  }
  function up(event: PointerEvent<SVGSVGElement>) {
    const clicked = grab && !grab.far && held === null;
    setGrab(null);
    setHeld(null);
    if (clicked && drawing) {
      setDraft([...(draft ?? []), place(event, event.currentTarget.getBoundingClientRect())]);
    }
  }

  const bar = scaleBar(view.wide);
  const line = (draft ?? []).map(px);
  const features = (kind: FarmMap["features"][number]["kind"]) =>
    map.features
      .filter((f) => f.kind === kind)
      .map((f) => (
        <FeatureMark
          key={f.id}
          feature={f}
          path={path}
          px={px}
          open={kind === "pump" && !drawing && choosePump ? () => choosePump(f.name) : undefined}
        />
      ));
  return (
    <svg
      ref={setNode}
      width={width}
      height={height}
      role="group"
      aria-label={t("map.mapOfTheFarm")}
      data-testid="plan"
      style={{
        display: "block",
        touchAction: "none",
        cursor: drawing ? "crosshair" : grab?.far ? "grabbing" : "default",
        background: ink("bedAhead"),
      }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerLeave={() => setGrab(null)}
    >
      {map.blocks.map((b) => {
        if (!b.geometry) return null;
        const on = b.id === chosen;
        const state = states.get(b.id);
        return (
          <path
            key={b.id}
            role="button"
            tabIndex={drawing ? -1 : 0}
            aria-pressed={on}
            aria-label={state === undefined ? b.name : `${b.name}: ${t(`state.${state}`)}`}
            style={{ cursor: drawing ? "crosshair" : "pointer", outline: "none" }}
            className="plan-block"
            onClick={() => !drawing && !editing && !grab?.far && choose(b.id)}
            onKeyDown={(e) => e.key === "Enter" && choose(b.id)}
            d={`${path(b.geometry as unknown as Geometry)}Z`}
            fill={ink(on ? "waterRim" : "sheet")}
            fillRule="evenodd"
            stroke={ink(on ? "water" : "loam")}
            strokeWidth={on ? 2.6 : 1.4}
            opacity={on && editing ? 0.35 : 1}
          />
        );
      })}
      {LAYERS[0].flatMap(features)}
      {LAYERS[1].flatMap(features)}
      {links.map(([from, to]) => {
        const [a, b] = [px(from), px(to)];
        return (
          <line
            key={`${from.join()} ${to.join()}`}
            x1={a.x}
            y1={a.y}
            x2={b.x}
            y2={b.y}
            stroke={ink("waterMid")}
            strokeWidth={1.2}
            strokeDasharray="2 4"
            pointerEvents="none"
          />
        );
      })}
      {map.blocks.map(
        (b) =>
          b.geometry && (
            <BlockLabel
              key={b.id}
              name={b.name}
              crop={b.crop}
              state={states.get(b.id)}
              chosen={b.id === chosen}
              ring={(linesOf(b.geometry as unknown as Geometry)[0] ?? []).map(px)}
            />
          ),
      )}
      {LAYERS[2].flatMap(features)}
      {extra.map((g, i) => (
        <path
          key={`extra-${i}`}
          d={`${path(g)}Z`}
          fill="none"
          stroke={ink("rust")}
          strokeWidth={2}
          strokeDasharray="6 4"
        />
      ))}
      {draft && line.length > 0 && (
        <g>
          <path
            d={`M${line.map((p) => `${p.x},${p.y}`).join("L")}${closed && line.length > 2 ? "Z" : ""}`}
            fill={closed ? ink("waterRim") : "none"}
            fillOpacity={0.5}
            stroke={ink("water")}
            strokeWidth={2.2}
            strokeDasharray={closed ? undefined : "8 4"}
            pointerEvents="none"
          />
          {line.map((p, i) => (
            <circle
              // oxlint-disable-next-line no-array-index-key -- corners have no other name
              key={i}
              cx={p.x}
              cy={p.y}
              r={editing ? 6 : 4}
              fill={ink("paper")}
              stroke={ink("water")}
              strokeWidth={2}
              style={{ cursor: editing ? "move" : "crosshair" }}
              onPointerDown={(e) => {
                if (!editing) return;
                e.stopPropagation();
                setHeld(i);
              }}
              onDoubleClick={() =>
                editing && line.length > 3 && setDraft((draft ?? []).filter((_, j) => j !== i))
              }
            />
          ))}
          {editing &&
            line.map((p, i) => {
              const next = line[(i + 1) % line.length] ?? p;
              return (
                <circle
                  // oxlint-disable-next-line no-array-index-key -- corners have no other name
                  key={`mid-${i}`}
                  cx={(p.x + next.x) / 2}
                  cy={(p.y + next.y) / 2}
                  r={3.5}
                  fill={ink("water")}
                  opacity={0.55}
                  style={{ cursor: "copy" }}
                  onPointerDown={(e) => {
                    e.stopPropagation();
                    const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
                    if (!box) return;
                    const at = place(e, box);
                    setDraft([...(draft ?? []).slice(0, i + 1), at, ...(draft ?? []).slice(i + 1)]);
                    setHeld(i + 1);
                  }}
                />
              );
            })}
        </g>
      )}
      <g transform={`translate(${width - 20 - bar * scale},${height - 18})`} pointerEvents="none">
        <line x1={0} x2={bar * scale} y1={0} y2={0} stroke={ink("ink")} strokeWidth={2} />
        <text x={bar * scale} y={-6} textAnchor="end" fill={ink("ink")} style={{ fontSize: 11 }}>
          {units === "metric" ? `${bar} m` : t("map.ft", { round: Math.round(bar / 0.3048) })}
        </text>
      </g>
      <g transform={`translate(${width - 26},30)`} pointerEvents="none">
        <path d="M0,-16 L6,4 L0,0 L-6,4 Z" fill={ink("ink")} />
        <text y={16} textAnchor="middle" fill={ink("ink")} style={{ fontSize: 11 }}>
          N
        </text>
      </g>
      <g
        fill={ink("ink")}
        textAnchor="middle"
        onPointerDown={(e) => e.stopPropagation()}
        style={{ fontSize: 16 }}
      >
        {(
          [
            ["+", t("map.zoomIn"), () => setMoved({ ...view, wide: view.wide / 1.4 })],
            ["−", t("map.zoomOut"), () => setMoved({ ...view, wide: view.wide * 1.4 })],
            ["▢", t("map.showWholeFarm"), () => setMoved(null)],
          ] as const
        ).map(([sign, label, act], i) => (
          <g
            key={sign}
            role="button"
            tabIndex={0}
            aria-label={label}
            transform={`translate(22,${22 + i * 30})`}
            style={{ cursor: "pointer" }}
            onClick={act}
            onKeyDown={(e) => e.key === "Enter" && act()}
          >
            <rect
              x={-13}
              y={-13}
              width={26}
              height={26}
              rx={4}
              fill={ink("paper")}
              stroke={ink("loam")}
            />
            <text y={6}>{sign}</text>
          </g>
        ))}
      </g>
    </svg>
  );
}
