import { describe, expect, it } from "vitest";
import { compassPoint, wayTo } from "./bearing";

describe("the way to a spot", () => {
  // Geodesics of the WGS 84 ellipsoid by pyproj 3.7: the sphere differs by up to half a percent.
  it.each([
    [[3.05, 56.4], [3.06, 56.4], 617.5, 90],
    [[3.05, 56.4], [3.05, 56.41], 1113.5, 0],
    [[3.05, 56.4], [3.04, 56.391], 1177.1, 211.6],
    [[-99.5, 41.2], [-99.4985, 41.1993], 147.9, 121.7],
  ] as [[number, number], [number, number], number, number][])(
    "from %j to %j is %d m at %d°",
    (from, to, metres, degrees) => {
      const way = wayTo(from, to);
      expect(Math.abs(way.metres / metres - 1)).toBeLessThan(0.006);
      expect(Math.abs(((way.degrees - degrees + 540) % 360) - 180)).toBeLessThan(0.6);
    },
  );

  it("is nothing where one stands", () => {
    expect(wayTo([10, 50], [10, 50]).metres).toBe(0);
  });
});

describe("the compass", () => {
  it.each([
    [0, "N"],
    [22, "N"],
    [23, "NE"],
    [180, "S"],
    [300, "NW"],
    [359, "N"],
  ])("of %d° says %s", (degrees, point) => {
    expect(compassPoint(degrees)).toBe(point);
  });
});
