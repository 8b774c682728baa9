import type { FarmTime } from "../time/farmTime";

/** Where moments lie along the sheet: from a midnight of it on, so many days wide. */
export interface PlotScale {
  left: number;
  right: number;
  days: number;
  /** The slot that it begins with, and the one after its last. */
  from: number;
  to: number;
  slotWidth: number;
  x: (at: Date | string) => number;
  slotX: (slot: number) => number;
}

const DAY_MS = 86_400_000;
const SLOTS_A_DAY = 12;

/** The slot of today's midnight on a sheet; the last that there is of a sheet of long ago. */
export function slotOfToday(time: FarmTime, starts: string[]): number {
  const past = starts.findLastIndex(
    (at) => new Date(at) <= time.now && time.clock(new Date(at)) === "00:00",
  );
  return Math.max(past, 0);
}

export function plotScale(
  starts: string[],
  from: number,
  days: number,
  left: number,
  right: number,
): PlotScale {
  const first = new Date(starts[from] ?? 0).getTime();
  const wide = right - left;
  const slotWidth = wide / (days * SLOTS_A_DAY);
  return {
    left,
    right,
    days,
    from,
    to: from + days * SLOTS_A_DAY,
    slotWidth,
    x: (at) => left + ((new Date(at).getTime() - first) / DAY_MS / days) * wide,
    slotX: (slot) => left + (slot - from) * slotWidth,
  };
}

/** Days that a heading has room for, and hours between them. */
export function ticks(time: FarmTime, scale: PlotScale, starts: string[]) {
  const dayWidth = scale.slotWidth * SLOTS_A_DAY;
  const every = dayWidth > 260 ? 3 : dayWidth > 100 ? 6 : dayWidth > 44 ? 12 : 24;
  const shown = starts.slice(scale.from, scale.to).map((s) => new Date(s));
  return {
    dayWidth,
    midnights: shown.filter((at) => time.clock(at) === "00:00"),
    hours: shown.filter((at) => time.hour(at) % every === 0 && time.clock(at) !== "00:00"),
  };
}
