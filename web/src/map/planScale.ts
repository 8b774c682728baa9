/* Longitude and latitude as a flat plan in metres about a middle, and back. For drawing only:
   areas come from the server, on the ellipsoid. */

export type LonLat = [number, number];
export interface Metres {
  x: number;
  y: number;
}

const M_PER_DEGREE = 111_320;

export interface Plan {
  lon: number;
  lat: number;
}

export function toMetres(plan: Plan, [lon, lat]: LonLat): Metres {
  const shrink = Math.cos((plan.lat * Math.PI) / 180);
  return {
    x: (lon - plan.lon) * M_PER_DEGREE * shrink,
    // Down the screen is south.
    y: (plan.lat - lat) * M_PER_DEGREE,
  };
}

/** Seven decimals are a centimetre. */
const rounded = (v: number) => Number(v.toFixed(7));

export function toLonLat(plan: Plan, { x, y }: Metres): LonLat {
  const shrink = Math.cos((plan.lat * Math.PI) / 180);
  return [rounded(plan.lon + x / (M_PER_DEGREE * shrink)), rounded(plan.lat - y / M_PER_DEGREE)];
}

export interface Geometry {
  type: string;
  coordinates: unknown;
}

/** The rings or lines of a geometry, a point as a line of one. */
export function linesOf(geometry: Geometry): LonLat[][] {
  const c = geometry.coordinates;
  switch (geometry.type) {
    case "Point":
      return [[c as LonLat]];
    case "LineString":
      return [c as LonLat[]];
    case "Polygon":
      return c as LonLat[][];
    case "MultiPolygon":
      return (c as LonLat[][][]).flat();
    default:
      return [];
  }
}

/** The mean of a ring's corners: near enough to lead a line to. */
export function middleOf(ring: LonLat[]): LonLat {
  const sum = ring.reduce<LonLat>((at, p) => [at[0] + p[0], at[1] + p[1]], [0, 0]);
  return [sum[0] / ring.length, sum[1] / ring.length];
}

export interface Frame {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** What a plan must show; a square kilometre about nothing when there is nothing. */
export function frameOf(geometries: Geometry[]): Frame {
  const points = geometries.flatMap((g) => linesOf(g).flat());
  if (points.length === 0) return { west: 0, south: 0, east: 0.01, north: 0.01 };
  const lon = points.map((p) => p[0]);
  const lat = points.map((p) => p[1]);
  return {
    west: Math.min(...lon),
    south: Math.min(...lat),
    east: Math.max(...lon),
    north: Math.max(...lat),
  };
}

export function planOf(frame: Frame): Plan {
  return { lon: (frame.west + frame.east) / 2, lat: (frame.south + frame.north) / 2 };
}

/** A ring of corners as a closed GeoJSON polygon. */
export function polygonOf(ring: LonLat[]): Geometry {
  const first = ring[0];
  return { type: "Polygon", coordinates: [first ? [...ring, first] : []] };
}

/** A round distance for the scale bar, about a fifth of the width. */
export function scaleBar(metresWide: number): number {
  const wanted = metresWide / 5;
  const power = 10 ** Math.floor(Math.log10(wanted));
  return [5, 2, 1].map((n) => n * power).find((n) => n <= wanted) ?? power;
}
