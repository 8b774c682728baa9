/* A raster as the server packs it: zlib of one byte a cell, each less the one before it. */

import type { RasterData, RasterPlace } from "./queries";

export const LEVELS = 101;

/** Levels of the cells by rows from the north; 0 is a cell without a value. */
export async function levelsOf(data: RasterData): Promise<Uint8Array> {
  const packed = Uint8Array.from(atob(data.data), (c) => c.codePointAt(0) ?? 0);
  const stream = new Blob([packed]).stream().pipeThrough(new DecompressionStream("deflate"));
  return summed(new Uint8Array(await new Response(stream).arrayBuffer()));
}

/** Steps from cell to cell, modulo 102, as levels. */
export function summed(steps: Uint8Array): Uint8Array {
  const levels = new Uint8Array(steps.length);
  let level = 0;
  for (let i = 0; i < steps.length; i++) {
    level = (level + (steps[i] ?? 0)) % (LEVELS + 1);
    levels[i] = level;
  }
  return levels;
}

/** What a level stands for; null where nothing is known. */
export function valueOf(level: number, { low, high }: { low: number; high: number }) {
  return level === 0 ? null : low + ((level - 1) / (LEVELS - 1)) * (high - low);
}

export interface Metres {
  x: number;
  y: number;
}

/** Metres east and north of the raster's zero. */
export function metresOf(place: RasterPlace, [lon, lat]: readonly [number, number]): Metres {
  const [east, north] = place.metres_per_degree;
  return { x: (lon - place.zero[0]) * east, y: (lat - place.zero[1]) * north };
}

/** Seven decimals are a centimetre. */
const rounded = (v: number) => Number(v.toFixed(7));

export function positionOf(place: RasterPlace, { x, y }: Metres): [number, number] {
  const [east, north] = place.metres_per_degree;
  return [rounded(place.zero[0] + x / east), rounded(place.zero[1] + y / north)];
}

/** The cell at a place, by rows from the north; -1 beside the raster. */
export function cellAt(place: RasterPlace, { x, y }: Metres): number {
  const col = Math.floor((x - place.west) / place.cell_m);
  const row = Math.floor((place.north - y) / place.cell_m);
  if (col < 0 || row < 0 || col >= place.cols || row >= place.rows) return -1;
  return row * place.cols + col;
}
