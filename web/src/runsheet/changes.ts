/* What a person does to irrigations of a run sheet, as the server takes it: a block's irrigations
   anew, each by its first slot and its hours. */

import type { BlockSets, SheetData, SheetSet } from "./queries";

/** Hours of a slot, of the shortest irrigation, and by how much one is stretched. */
export const SLOT_H = 2;
export const STRETCH_H = 0.5;
const LEAST_H = 0.5;
export const SLOTS = 120;

type SetIn = BlockSets["sets"][number];

/** Nobody moves what runs or did. */
export function isFree(set: SheetSet): boolean {
  return set.status === "draft" || set.status === "announced";
}

function asSent(set: SheetSet): SetIn {
  return { id: set.id, start: set.start, hours: set.hours, pinned: set.pinned };
}

/** A block's irrigations with one of them changed; null leaves it out. */
function withOne(sheet: SheetData, set: SheetSet, change: (one: SetIn) => SetIn[]): BlockSets {
  const own = sheet.sets.filter((s) => s.block_id === set.block_id);
  return {
    block_id: set.block_id,
    sets: own.flatMap((s) => (s.id === set.id ? change(asSent(s)) : [asSent(s)])),
  };
}

/** Begins at another slot; kept within the days of the sheet. */
export function moved(sheet: SheetData, set: SheetSet, start: number): BlockSets {
  const within = Math.min(Math.max(start, 0), SLOTS - set.slots);
  return withOne(sheet, set, (one) => [{ ...one, start: within }]);
}

/** Runs so many hours. */
export function lasting(sheet: SheetData, set: SheetSet, hours: number): BlockSets {
  const most = (SLOTS - set.start) * SLOT_H;
  return withOne(sheet, set, (one) => [
    { ...one, hours: Math.min(Math.max(hours, LEAST_H), most) },
  ]);
}

/** Stays where it is when the sheet is planned again, or no longer does. */
export function pinned(sheet: SheetData, set: SheetSet, on: boolean): BlockSets {
  return withOne(sheet, set, (one) => [{ ...one, pinned: on }]);
}

/** Left out. */
export function removed(sheet: SheetData, set: SheetSet): BlockSets {
  return withOne(sheet, set, () => []);
}

/** Two of half the hours, the second a slot after the end of the first. */
export function split(sheet: SheetData, set: SheetSet): BlockSets {
  return withOne(sheet, set, (one) => {
    const hours = one.hours / 2;
    const next = one.start + Math.ceil(hours / SLOT_H) + 1;
    const last = SLOTS - Math.ceil(hours / SLOT_H);
    return [
      { ...one, hours },
      { id: 0, start: Math.min(next, last), hours, pinned: one.pinned },
    ];
  });
}

/** Each begins when the other did. */
export function swapped(sheet: SheetData, one: SheetSet, other: SheetSet): BlockSets[] {
  if (one.block_id !== other.block_id)
    return [moved(sheet, one, other.start), moved(sheet, other, one.start)];
  const own = sheet.sets.filter((s) => s.block_id === one.block_id);
  const starts = new Map([
    [one.id, other.start],
    [other.id, one.start],
  ]);
  return [
    {
      block_id: one.block_id,
      sets: own.map((s) => ({ ...asSent(s), start: starts.get(s.id) ?? s.start })),
    },
  ];
}

/** One more irrigation of a block. */
export function added(sheet: SheetData, block: number, start: number, hours: number): BlockSets {
  const own = sheet.sets.filter((s) => s.block_id === block).map(asSent);
  return { block_id: block, sets: [...own, { id: 0, start, hours, pinned: true }] };
}
