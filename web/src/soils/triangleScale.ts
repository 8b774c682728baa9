/* Where a texture stands on the drawn triangle, and back: sand runs leftward along the foot,
   clay upward, silt is the rest. Percent against the drawing's own units. */

export const TRIANGLE = {
  width: 320,
  height: 288,
  left: 30,
  right: 310,
  top: 12,
  bottom: 260,
} as const;

const { left, right, top, bottom } = TRIANGLE;

export function toPoint(sand: number, clay: number): { x: number; y: number } {
  const silt = 100 - sand - clay;
  return {
    x: left + ((right - left) * (silt + clay / 2)) / 100,
    y: bottom - ((bottom - top) * clay) / 100,
  };
}

/** The nearest texture inside the triangle, in whole percent. */
export function clamped(sand: number, clay: number): { sand: number; clay: number } {
  const c = Math.min(Math.max(Math.round(clay), 0), 100);
  return { sand: Math.min(Math.max(Math.round(sand), 0), 100 - c), clay: c };
}

export function fromPoint(x: number, y: number): { sand: number; clay: number } {
  const clay = ((bottom - y) / (bottom - top)) * 100;
  const along = ((x - left) / (right - left)) * 100;
  const silt = along - clay / 2;
  return clamped(100 - silt - clay, clay);
}
