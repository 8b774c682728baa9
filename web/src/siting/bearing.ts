/* The way to a spot from where a phone is: how far, and which way. */

const EARTH_M = 6_371_008.8;
const rad = (degrees: number) => (degrees * Math.PI) / 180;

export interface Way {
  metres: number;
  /** Clockwise from north. */
  degrees: number;
}

/** Great circle from one [longitude, latitude] to another. */
export function wayTo(from: readonly [number, number], to: readonly [number, number]): Way {
  const [east, north] = [rad(to[0] - from[0]), rad(to[1] - from[1])];
  const half =
    Math.sin(north / 2) ** 2 +
    Math.cos(rad(from[1])) * Math.cos(rad(to[1])) * Math.sin(east / 2) ** 2;
  const y = Math.sin(east) * Math.cos(rad(to[1]));
  const x =
    Math.cos(rad(from[1])) * Math.sin(rad(to[1])) -
    Math.sin(rad(from[1])) * Math.cos(rad(to[1])) * Math.cos(east);
  return {
    metres: 2 * EARTH_M * Math.asin(Math.min(1, Math.sqrt(half))),
    degrees: ((Math.atan2(y, x) * 180) / Math.PI + 360) % 360,
  };
}

export const POINTS = ["N", "NE", "E", "SE", "S", "SW", "W", "NW"] as const;

export type CompassPoint = (typeof POINTS)[number];

/** The nearest of the eight points of the compass. */
export function compassPoint(degrees: number): CompassPoint {
  return POINTS[Math.round(degrees / 45) % 8] ?? "N";
}
