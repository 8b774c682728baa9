/* The furrow's shape: a band around a middle line, as thick as the usable water above refill.
   Full is the bed's whole height; above full it swells over the brim; below refill it is dry
   and cracks open. Pure geometry, in pixels. */

import type { ScaleLinear } from "d3-scale";
import { area, curveMonotoneX } from "d3-shape";
import type { Furrow } from "./queries";

export interface Band {
  hours: number;
  /** 0 at refill, 1 at full. */
  share: number;
}

export interface Crack {
  x: number;
  /** 0-1: how far below refill. */
  depth: number;
  ahead: boolean;
}

export interface RibbonShape {
  past: string;
  swell: string;
  wet: string;
  expected: string;
  dry: string;
  cracks: Crack[];
  /** Stretches of the past without a trusted reading, as [from, to] in px. */
  silent: [number, number][];
}

const CRACK_STEP_PX = 17;
/** How far the swell may rise over the brim, as a share of the bed's half height. */
const MAX_SWELL = 0.45;

function clamp(value: number): number {
  return Math.min(Math.max(value, 0), 1);
}

/** Linear reading of a series at an hour; null outside it or in a gap. */
export function shareAt(bands: Band[], hours: number): number | null {
  for (let i = 1; i < bands.length; i += 1) {
    const a = bands[i - 1];
    const b = bands[i];
    if (!a || !b || hours < a.hours || hours > b.hours) continue;
    if (b.hours - a.hours > 30) return null;
    return a.share + ((b.share - a.share) * (hours - a.hours)) / (b.hours - a.hours);
  }
  return null;
}

export function pastBands(row: Furrow): Band[] {
  const bands: Band[] = [];
  for (const p of row.past) {
    if (p.usable_mm !== null) bands.push({ hours: p.hours, share: p.usable_mm / p.raw_mm });
  }
  const now = row.ahead[0];
  // From the last reading to now the balance carries on; both ends are known.
  if (now && bands.length > 0) bands.push({ hours: 0, share: now.usable_mm / now.raw_mm });
  return bands;
}

function aheadBands(row: Furrow, which: "dry_mm" | "usable_mm" | "wet_mm"): Band[] {
  return row.ahead.map((p) => ({ hours: p.day * 24, share: p[which] / p.raw_mm }));
}

export function ribbonShape(
  row: Furrow,
  x: ScaleLinear<number, number>,
  middle: number,
  half: number,
): RibbonShape {
  const band = area<Band>()
    .x((b) => x(b.hours))
    .y0((b) => middle - clamp(b.share) * half)
    .y1((b) => middle + clamp(b.share) * half)
    .curve(curveMonotoneX);
  const draw = (bands: Band[]) => band(bands) ?? "";

  const past = pastBands(row);
  // What stands over the brim once every dry layer is made up for.
  const over = row.past.map((p) => ({
    hours: p.hours,
    share:
      p.usable_mm === null
        ? null
        : Math.min(
            Math.max((p.surplus_mm ?? 0) - (p.raw_mm - p.usable_mm), 0) / p.raw_mm,
            MAX_SWELL,
          ),
  }));
  const swell = (side: 1 | -1) =>
    area<(typeof over)[number]>()
      .defined(
        (p, i) =>
          p.share !== null && over.slice(Math.max(i - 1, 0), i + 2).some((q) => (q.share ?? 0) > 0),
      )
      .x((p) => x(p.hours))
      .y0(middle + side * half)
      .y1((p) => middle + side * half * (1 + (p.share ?? 0)))
      .curve(curveMonotoneX)(over) ?? "";

  const wet = aheadBands(row, "wet_mm");
  const expected = aheadBands(row, "usable_mm");
  const dry = aheadBands(row, "dry_mm");
  const cracks: Crack[] = [];
  const [left = 0, right = 0] = x.range();
  for (let px = left + CRACK_STEP_PX / 2; px < right; px += CRACK_STEP_PX) {
    const hours = x.invert(px);
    const share = hours <= 0 ? shareAt(past, hours) : shareAt(expected, hours);
    if (share !== null && share < 0) {
      cracks.push({ x: px, depth: clamp(0.25 - share * 0.75), ahead: hours > 0 });
    }
  }

  const silent: [number, number][] = [];
  const first = past[0];
  const last = past.at(-1);
  if (!first || !last) silent.push([left, x(0)]);
  else {
    if (first.hours > x.invert(left) + 6) silent.push([left, x(first.hours)]);
    if (last.hours < -6) silent.push([x(last.hours), x(0)]);
  }
  return {
    past: draw(past),
    swell: swell(1) + swell(-1),
    wet: draw(wet),
    expected: draw(expected),
    dry: draw(dry),
    cracks,
    silent,
  };
}
