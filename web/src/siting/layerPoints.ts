/* The points of a layer as the server packs them: little-endian numbers in base 64. */

import type { LayerPoints } from "./queries";

export interface OpenedPoints {
  count: number;
  /** Metres on the raster's map. */
  x: Float64Array;
  y: Float64Array;
  /** The place of each one's reason among the reasons. */
  why: Uint8Array;
  value: Float32Array;
  /** The places of the points in the layer. */
  number: Uint32Array;
}

function bytesOf(text: string): ArrayBuffer {
  const found = Uint8Array.from(atob(text), (c) => c.codePointAt(0) ?? 0);
  return found.buffer;
}

/** Little-endian numbers, whatever the machine's own order is. */
function read<T>(
  text: string,
  size: number,
  make: (n: number) => T,
  put: (to: T, i: number, view: DataView) => void,
): T {
  const view = new DataView(bytesOf(text));
  const count = view.byteLength / size;
  const found = make(count);
  for (let i = 0; i < count; i++) put(found, i, view);
  return found;
}

export function openedPoints(points: LayerPoints): OpenedPoints {
  const why = new Uint8Array(bytesOf(points.why));
  const metres = (text: string, from: number, sign: number) =>
    read(
      text,
      2,
      (n) => new Float64Array(n),
      (to, i, view) => {
        to[i] = from + sign * points.step_m * view.getUint16(i * 2, true);
      },
    );
  return {
    count: why.length,
    x: metres(points.x, points.west, 1),
    y: metres(points.y, points.north, -1),
    why,
    value: read(
      points.value,
      4,
      (n) => new Float32Array(n),
      (to, i, view) => {
        to[i] = view.getFloat32(i * 4, true);
      },
    ),
    number:
      points.number === null
        ? Uint32Array.from({ length: why.length }, (_, i) => i)
        : read(
            points.number,
            4,
            (n) => new Uint32Array(n),
            (to, i, view) => {
              to[i] = view.getUint32(i * 4, true);
            },
          ),
  };
}

/** The point nearest to a place, within a reach in metres; -1 where there is none. */
export function nearestPoint(
  points: OpenedPoints,
  at: { x: number; y: number },
  reach: number,
): number {
  let best = -1;
  let square = reach * reach;
  for (let i = 0; i < points.count; i++) {
    const east = (points.x[i] ?? 0) - at.x;
    const north = (points.y[i] ?? 0) - at.y;
    const away = east * east + north * north;
    if (away <= square) {
      best = i;
      square = away;
    }
  }
  return best;
}
