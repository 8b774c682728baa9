import { Box } from "@chakra-ui/react";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { useWidth } from "../draw/useWidth";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { withUnit, type UnitSystem } from "../units/format";
import { isFree, STRETCH_H, SLOT_H, SLOTS } from "./changes";
import { lanes, stacked, type Bar, type LanesBy } from "./lanes";
import { LaneShade, ShadePatterns } from "./LaneShade";
import { plotScale, slotOfToday, type PlotScale } from "./plotScale";
import type { SheetData, SheetSet, Store } from "./queries";
import { BAR_HEIGHT, SetBar } from "./SetBar";
import { AXIS_HEIGHT, SheetAxis } from "./SheetAxis";
import { STORE_HEIGHT, StoreRow } from "./StoreRow";
import type { Draft } from "./useDraft";
import { t } from "./t";

interface Props {
  sheet: SheetData;
  time: FarmTime;
  units: UnitSystem;
  by: LanesBy;
  days: number;
  chosen: string | null;
  choose: (bar: Bar) => void;
  draft: Draft | null;
  setDraft: (draft: Draft | null) => void;
  settle: () => void;
  act: (bar: Bar, key: string) => void;
  mayChange: boolean;
  store: { store: Store; name: string } | null;
}

/** What the pointer holds, from where, and whether it went anywhere yet. */
interface Grabbed {
  bar: Bar;
  set: SheetSet;
  x: number;
  stretches: boolean;
  moved: boolean;
}

const GUTTER = 132;
const LEAST_WIDTH = 760;
const ROW = BAR_HEIGHT + 10;
const PAD = 8;

/** Lanes with the irrigations of the sheet on one axis of time, and the store of the chosen block. */
export function SheetChart(props: Props) {
  const { sheet, time, units, by, days, chosen, choose, draft, setDraft, settle, act } = props;
  const [ref, measured] = useWidth();
  const svg = useRef<SVGSVGElement>(null);
  const grabbed = useRef<Grabbed | null>(null);
  const width = Math.max(measured, LEAST_WIDTH);
  const from = slotOfToday(time, sheet.starts);
  const scale = plotScale(sheet.starts, from, days, GUTTER, width - 6);
  const drawn = lanes(shownSheet(sheet, draft), by);
  const broken = new Set(
    sheet.broken.flatMap((b) => b.block_ids.flatMap((id) => keysIn(sheet, id, b.slots))),
  );
  const { placed, end: lanesEnd } = stacked(drawn, AXIS_HEIGHT, ROW, PAD);
  const height = lanesEnd + (props.store ? STORE_HEIGHT + 6 : 0);

  // Nothing is moved into the past.
  const first = Math.max(
    sheet.starts.findIndex((at) => new Date(at) >= time.now),
    0,
  );
  const grab = (bar: Bar, event: PointerEvent<SVGGElement>, stretches: boolean) => {
    if (!bar.set) return;
    svg.current?.setPointerCapture(event.pointerId);
    grabbed.current = { bar, set: bar.set, x: event.clientX, stretches, moved: false };
  };
  const pull = (event: PointerEvent<SVGSVGElement>) => {
    const held = grabbed.current;
    if (!held) return;
    const far = event.clientX - held.x;
    if (Math.abs(far) > 3) held.moved = true;
    if (!held.moved) return;
    const { set, stretches } = held;
    const slots = far / scale.slotWidth;
    setDraft({
      set,
      byKey: false,
      start: stretches ? set.start : inside(set.start + Math.round(slots), set.slots, first),
      hours: stretches ? Math.max(STRETCH_H, snapped(set.hours + slots * SLOT_H)) : set.hours,
    });
  };
  const letGo = () => {
    const held = grabbed.current;
    grabbed.current = null;
    if (held?.moved) settle();
    // The pointer was caught by the drawing, which then takes the click.
    else if (held) choose(held.bar);
  };

  const press = (bar: Bar, event: KeyboardEvent<SVGGElement>) => {
    const set = bar.set;
    const known = ["ArrowLeft", "ArrowRight", "+", "-", "p", "s", "Delete", "Enter", " ", "Escape"];
    if (!known.includes(event.key) || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === "Enter" || event.key === " ") choose(bar);
    if (event.key === "Escape") setDraft(null);
    if (!set || !props.mayChange || !isFree(set)) return;
    const now = draft?.set.id === set.id ? draft : { set, start: set.start, hours: set.hours };
    const far = event.shiftKey ? 12 : 1;
    if (event.key === "ArrowLeft")
      setDraft({ ...now, set, byKey: true, start: inside(now.start - far, set.slots, first) });
    else if (event.key === "ArrowRight")
      setDraft({ ...now, set, byKey: true, start: inside(now.start + far, set.slots, first) });
    else if (event.key === "+" || event.key === "-") {
      const more = event.key === "+" ? STRETCH_H : -STRETCH_H;
      setDraft({ ...now, set, byKey: true, hours: Math.max(STRETCH_H, now.hours + more) });
    } else if (["p", "s", "Delete"].includes(event.key)) act(bar, event.key);
  };

  return (
    <Box ref={ref} overflowX="auto" tabIndex={0} role="region" aria-label={t("runsheet.chart")}>
      <svg
        ref={svg}
        width={width}
        height={height}
        display="block"
        style={{ userSelect: "none" }}
        onPointerMove={pull}
        onPointerUp={letGo}
        onPointerCancel={() => {
          grabbed.current = null;
          setDraft(null);
        }}
      >
        <ShadePatterns />
        {placed.map((lane) => {
          const source = lane.source === null ? undefined : sheet.sources[lane.source];
          return (
            <g key={lane.name}>
              {source && (
                <LaneShade
                  source={source}
                  windy={windyOf(sheet, lane.source)}
                  scale={scale}
                  y={lane.y}
                  height={lane.height}
                />
              )}
            </g>
          );
        })}
        <SheetAxis
          nights={sheet.nights}
          scale={scale}
          time={time}
          starts={sheet.starts}
          height={height}
        />
        {placed.map((lane) => {
          const source = lane.source === null ? undefined : sheet.sources[lane.source];
          return (
            <g key={lane.name} role="group" aria-label={lane.name || t("runsheet.nobody")}>
              <line x1={0} x2={width} y1={lane.y} y2={lane.y} stroke={ink("rule")} />
              <text
                x={0}
                y={lane.y + 19}
                style={{ fontSize: 13.5, fontWeight: 700 }}
                fill={ink("ink")}
              >
                {lane.name || t("runsheet.nobody")}
              </text>
              {source && (
                <text x={0} y={lane.y + 35} style={{ fontSize: 11.5 }} fill={ink("inkSoft")}>
                  {source.limited
                    ? withUnit(source.flow_m3_h, units, "flow", 0)
                    : t("runsheet.notLimited")}
                </text>
              )}
              {lane.bars.map((bar) => (
                <SetBar
                  key={bar.key}
                  bar={bar}
                  scale={scale}
                  y={lane.y + PAD + bar.row * ROW}
                  next={nextInRow(lane.bars, bar, scale)}
                  units={units}
                  time={time}
                  chosen={bar.key === chosen}
                  broken={broken.has(bar.key)}
                  free={props.mayChange && bar.set !== null && isFree(bar.set)}
                  choose={() => choose(bar)}
                  grab={(event, stretches) => grab(bar, event, stretches)}
                  press={(event) => press(bar, event)}
                />
              ))}
            </g>
          );
        })}
        <line x1={0} x2={width} y1={lanesEnd} y2={lanesEnd} stroke={ink("inkSoft")} />
        {props.store && <StoreRow {...props.store} scale={scale} y={lanesEnd + 2} units={units} />}
      </svg>
    </Box>
  );
}

/** Where the next bar of the same row begins [px]. */
function nextInRow(bars: Bar[], bar: Bar, scale: PlotScale): number {
  const later = bars.filter((b) => b.row === bar.row && b.starts > bar.starts);
  return Math.min(scale.right, ...later.map((b) => scale.x(b.starts)));
}

/** Slots in which any block of a source waits for less wind. */
function windyOf(sheet: SheetData, source: number | null): number[] {
  const own = sheet.blocks.filter((b) => b.source === source);
  return [...new Set(own.flatMap((b) => b.windy))].toSorted((a, b) => a - b);
}

/** Within what is left of the sheet. */
function inside(start: number, slots: number, first: number): number {
  return Math.min(Math.max(start, first), SLOTS - slots);
}

function snapped(hours: number): number {
  return Math.round(hours / STRETCH_H) * STRETCH_H;
}

/** Bars of a block's irrigations that take any of some slots; all of them where none are named. */
function keysIn(sheet: SheetData, block: number, slots: number[]): string[] {
  return sheet.sets
    .filter(
      (s) =>
        s.block_id === block &&
        (slots.length === 0 || slots.some((slot) => slot >= s.start && slot < s.start + s.slots)),
    )
    .map((s) => `set-${s.id}`);
}

/** The sheet with what is being moved where it is now. */
function shownSheet(sheet: SheetData, draft: Draft | null): SheetData {
  if (!draft) return sheet;
  return {
    ...sheet,
    sets: sheet.sets.map((s) => {
      if (s.id !== draft.set.id) return s;
      const from = new Date(sheet.starts[draft.start] ?? s.starts_at);
      const ends = new Date(from.getTime() + draft.hours * 3_600_000).toISOString();
      const share = draft.hours / s.hours;
      return {
        ...s,
        start: draft.start,
        hours: draft.hours,
        starts_at: from.toISOString(),
        ends_at: ends,
        gross_mm: s.gross_mm * share,
      };
    }),
  };
}
