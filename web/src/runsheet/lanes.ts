/* Where the irrigations of a run sheet are drawn: a lane for each source, machine or person, and in
   it as many rows as run at the same time. */

import type { SheetData, SheetSet, Standing } from "./queries";

export type LanesBy = "source" | "person" | "machine";

/** An irrigation of the sheet, or one that stands beside it. */
export interface Bar {
  key: string;
  block: number;
  name: string;
  starts: Date;
  ends: Date;
  gross_mm: number;
  row: number;
  set: SheetSet | null;
  standing: Standing | null;
}

export interface Lane {
  name: string;
  /** Place of the source, for what is shaded behind it; null for lanes of another kind. */
  source: number | null;
  rows: number;
  bars: Bar[];
}

/** How the lane of a block is called. */
function laneOf(sheet: SheetData, block: number, by: LanesBy): string | null {
  const of = sheet.blocks.find((b) => b.id === block);
  if (!of) return null;
  if (by === "source") return sheet.sources[of.source]?.name ?? "";
  if (by === "person") return of.irrigator ?? "";
  return of.machine === null ? null : (sheet.machines[of.machine] ?? null);
}

/** Bars in the fewest rows in which none covers another. */
export function packed(bars: Omit<Bar, "row">[]): { bars: Bar[]; rows: number } {
  const ends: number[] = [];
  const placed = bars
    .toSorted((a, b) => a.starts.getTime() - b.starts.getTime() || a.key.localeCompare(b.key))
    .map((bar) => {
      const free = ends.findIndex((end) => end <= bar.starts.getTime());
      const row = free < 0 ? ends.length : free;
      ends[row] = bar.ends.getTime();
      return { ...bar, row };
    });
  return { bars: placed, rows: Math.max(ends.length, 1) };
}

/** Lanes with their bars; sources in the sheet's order, others by name. */
export function lanes(sheet: SheetData, by: LanesBy): Lane[] {
  const names = new Map(sheet.blocks.map((b) => [b.id, b.name]));
  const bars = [
    ...sheet.sets.map((set) => ({
      key: `set-${set.id}`,
      block: set.block_id,
      name: names.get(set.block_id) ?? "",
      starts: new Date(set.starts_at),
      ends: new Date(set.ends_at),
      gross_mm: set.gross_mm,
      set,
      standing: null,
    })),
    ...sheet.standing
      // What was announced and runs stands on the sheet itself.
      .filter((s) => !sheet.sets.some((set) => set.irrigation_id === s.irrigation_id))
      .map((standing) => ({
        key: `standing-${standing.irrigation_id}`,
        block: standing.block_id,
        name: names.get(standing.block_id) ?? "",
        starts: new Date(standing.starts_at),
        ends: new Date(standing.ends_at),
        gross_mm: standing.gross_mm,
        set: null,
        standing,
      })),
  ];
  const found = new Map<string, Omit<Bar, "row">[]>();
  if (by === "source") for (const source of sheet.sources) found.set(source.name, []);
  for (const bar of bars) {
    const lane = laneOf(sheet, bar.block, by);
    if (lane === null) continue;
    found.set(lane, [...(found.get(lane) ?? []), bar]);
  }
  const order =
    by === "source" ? [...found.keys()] : [...found.keys()].toSorted((a, b) => a.localeCompare(b));
  return order.map((name) => {
    const source = by === "source" ? sheet.sources.findIndex((s) => s.name === name) : -1;
    return { name, source: source < 0 ? null : source, ...packed(found.get(name) ?? []) };
  });
}

/** Stretches of slots on end, as first and end: [3, 4, 7] are [3, 5) and [7, 8). */
export function stretches(slots: number[]): [number, number][] {
  const out: [number, number][] = [];
  for (const slot of slots) {
    const last = out.at(-1);
    if (last?.[1] === slot) last[1] = slot + 1;
    else out.push([slot, slot + 1]);
  }
  return out;
}

/** Slots with the lowest and the highest price of a source; none where it is the same throughout. */
export function cheapAndDear(prices: number[]): { cheap: number[]; dear: number[] } {
  const low = Math.min(...prices);
  const high = Math.max(...prices);
  if (high - low < 1e-9) return { cheap: [], dear: [] };
  const at = (price: number) =>
    prices.flatMap((p, slot) => (Math.abs(p - price) < 1e-9 ? [slot] : []));
  return { cheap: at(low), dear: at(high) };
}

/** Lanes one under the other: where each begins, how high it is, and where the last ends. */
export function stacked(found: Lane[], top: number, row: number, pad: number) {
  const heights = found.map((lane) => lane.rows * row + pad);
  const begins = heights.map((_, k) => top + heights.slice(0, k).reduce((sum, h) => sum + h, 0));
  const placed = found.map((lane, k) => ({
    ...lane,
    y: begins[k] ?? top,
    height: heights[k] ?? 0,
  }));
  return { placed, end: top + heights.reduce((sum, h) => sum + h, 0) };
}
