import type { FarmTime } from "../time/farmTime";

/** Where moments lie along the sheet: from its first midnight on, so many days wide. */
export interface PlotScale {
  left: number;
  right: number;
  days: number;
  slotWidth: number;
  x: (at: Date | string) => number;
  slotX: (slot: number) => number;
}

const DAY_MS = 86_400_000;
const SLOTS_A_DAY = 12;

export function plotScale(firstAt: string, days: number, left: number, right: number): PlotScale {
  const first = new Date(firstAt).getTime();
  const wide = right - left;
  const x = (at: Date | string) => left + ((new Date(at).getTime() - first) / DAY_MS / days) * wide;
  const slotWidth = wide / (days * SLOTS_A_DAY);
  return { left, right, days, slotWidth, x, slotX: (slot) => left + slot * slotWidth };
}

/** Days that a heading has room for, and hours between them. */
export function ticks(time: FarmTime, scale: PlotScale, starts: string[]) {
  const dayWidth = scale.slotWidth * SLOTS_A_DAY;
  const every = dayWidth > 260 ? 3 : dayWidth > 100 ? 6 : dayWidth > 44 ? 12 : 24;
  const shown = starts.slice(0, scale.days * SLOTS_A_DAY).map((s) => new Date(s));
  return {
    dayWidth,
    midnights: shown.filter((at) => time.clock(at) === "00:00"),
    hours: shown.filter((at) => time.hour(at) % every === 0 && time.clock(at) !== "00:00"),
  };
}
