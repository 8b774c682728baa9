/* The pit wall as pixels: time across, depth down, the share of available water as colour. */

import type { SiteSeries } from "./queries";

export type Rgb = readonly [number, number, number];

/** From wilting to full and beyond: straw, loam green, water, deep water. */
export const WALL_STOPS: readonly [number, Rgb][] = [
  [0, [214, 172, 98]],
  [0.35, [168, 148, 112]],
  [0.6, [104, 130, 124]],
  [0.85, [46, 108, 118]],
  [1, [20, 84, 100]],
  [1.3, [8, 50, 66]],
];

export function wallColour(share: number): Rgb {
  const [first] = WALL_STOPS;
  if (!first || share <= first[0]) return first?.[1] ?? [0, 0, 0];
  for (let i = 1; i < WALL_STOPS.length; i += 1) {
    const a = WALL_STOPS[i - 1];
    const b = WALL_STOPS[i];
    if (!a || !b || share > b[0]) continue;
    const t = (share - a[0]) / (b[0] - a[0]);
    return [
      Math.round(a[1][0] + (b[1][0] - a[1][0]) * t),
      Math.round(a[1][1] + (b[1][1] - a[1][1]) * t),
      Math.round(a[1][2] + (b[1][2] - a[1][2]) * t),
    ];
  }
  return WALL_STOPS.at(-1)?.[1] ?? [0, 0, 0];
}

interface Sensed {
  depth: number;
  share: number;
}

/** Share at a depth: straight between sensors, the end sensor's beyond them. */
function shareAtDepth(sensed: Sensed[], depth: number): number | null {
  const [first] = sensed;
  const last = sensed.at(-1);
  if (!first || !last) return null;
  if (depth <= first.depth) return first.share;
  if (depth >= last.depth) return last.share;
  for (let i = 1; i < sensed.length; i += 1) {
    const a = sensed[i - 1];
    const b = sensed[i];
    if (a && b && depth <= b.depth) {
      return a.share + ((b.share - a.share) * (depth - a.depth)) / (b.depth - a.depth);
    }
  }
  return null;
}

/** For each column the reading that holds there; -1 where none is near enough. */
export function columnRows(hours: number[], days: number, width: number): Int32Array {
  const rows = new Int32Array(width).fill(-1);
  if (hours.length === 0) return rows;
  const gaps = hours.slice(1).map((h, i) => h - (hours[i] ?? h));
  const usual = gaps.toSorted((a, b) => a - b)[Math.floor(gaps.length / 2)] ?? 24;
  const reach = Math.max(usual * 2.5, 6);
  let at = 0;
  for (let px = 0; px < width; px += 1) {
    const h = -days * 24 * (1 - (px + 0.5) / width);
    while (at + 1 < hours.length && (hours[at + 1] ?? 0) <= h) at += 1;
    const before = hours[at] ?? Number.NEGATIVE_INFINITY;
    if (before <= h && h - before <= reach) rows[px] = at;
  }
  return rows;
}

/** Pixels of the wall, RGBA; clear where nothing trusted is known. */
export function wallPixels(
  site: SiteSeries,
  days: number,
  depthMm: number,
  width: number,
  height: number,
): Uint8ClampedArray<ArrayBuffer> {
  const pixels = new Uint8ClampedArray(width * height * 4);
  const rows = columnRows(site.hours, days, width);
  for (let px = 0; px < width; px += 1) {
    const row = site.fraction[rows[px] ?? -1];
    if (!row) continue;
    const sensed: Sensed[] = [];
    site.depth_mm.forEach((depth, j) => {
      const share = row[j];
      if (share !== null && share !== undefined) sensed.push({ depth, share });
    });
    if (sensed.length === 0) continue;
    for (let py = 0; py < height; py += 1) {
      const share = shareAtDepth(sensed, ((py + 0.5) / height) * depthMm);
      if (share === null) continue;
      const [r, g, b] = wallColour(share);
      const at = (py * width + px) * 4;
      pixels[at] = r;
      pixels[at + 1] = g;
      pixels[at + 2] = b;
      pixels[at + 3] = 255;
    }
  }
  return pixels;
}

/** Depth shown: the deepest sensor or root with a margin, in whole decimetres. */
export function wallDepth(site: SiteSeries, rootMm: number, profileMm: number): number {
  const deepest = Math.max(...site.depth_mm, rootMm);
  return Math.min(Math.ceil((deepest * 1.12) / 100) * 100, Math.max(profileMm, deepest));
}
