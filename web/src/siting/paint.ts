/* Levels of a raster as pixels, in colours of the theme. */

import { LEVELS } from "./levels";

type Rgb = readonly [number, number, number];

/** From little to much: from the ground of the page to its ink. */
export const RAMP = ["bed", "straw", "loam", "ink"] as const;
/** Zones by their number; each has its number on the plan too. */
export const ZONES = ["straw", "loam", "water", "waterRim", "ink", "rust"] as const;
/** Classes of the years, in the order of the server: unknown, low, average, high, changing, flips. */
export const CLASSES = ["paper", "straw", "bed", "loam", "rust", "water"] as const;

/** A colour as three numbers, as the page shows it in a theme: the one that is on. */
export function colourOf(token: string, _theme: "light" | "dark"): Rgb {
  const name = `--chakra-colors-${token.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`;
  const probe = document.createElement("canvas").getContext("2d");
  if (!probe) return [0, 0, 0];
  probe.fillStyle =
    getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "#000";
  const hex = probe.fillStyle;
  const part = (at: number) => Number.parseInt(hex.slice(at, at + 2), 16);
  return [part(1), part(3), part(5)];
}

export function ramp(stops: Rgb[]): (level: number) => Rgb {
  return (level) => {
    const along = ((level - 1) / (LEVELS - 1)) * (stops.length - 1);
    const at = Math.min(Math.floor(along), stops.length - 2);
    const [from, to] = [stops[at], stops[at + 1]];
    if (!from || !to) return [0, 0, 0];
    const mixed = (i: 0 | 1 | 2) => Math.round(from[i] + (along - at) * (to[i] - from[i]));
    return [mixed(0), mixed(1), mixed(2)];
  };
}

/** The number of a class that a level stands for, of so many that the raster spans. */
export const classOf = (level: number, last: number) =>
  Math.round(((level - 1) / (LEVELS - 1)) * last);

/** Pixels of a raster; cells without a value are clear. */
export function pixels(
  levels: Uint8Array,
  cols: number,
  rows: number,
  colour: (level: number) => Rgb,
  opacity = 1,
): ImageData {
  const image = new ImageData(cols, rows);
  const known = Array.from({ length: LEVELS + 1 }, (_, l) => (l === 0 ? null : colour(l)));
  for (let i = 0; i < levels.length; i++) {
    const rgb = known[levels[i] ?? 0];
    if (!rgb) continue;
    const at = i * 4;
    image.data[at] = rgb[0];
    image.data[at + 1] = rgb[1];
    image.data[at + 2] = rgb[2];
    image.data[at + 3] = 255 * opacity;
  }
  return image;
}
