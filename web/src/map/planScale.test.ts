import { describe, expect, it } from "vitest";
import { frameOf, linesOf, planOf, polygonOf, scaleBar, toLonLat, toMetres } from "./planScale";

const PLAN = { lon: 3.05, lat: 56.4 };

describe("the plan's scale", () => {
  it("goes both ways to the centimetre", () => {
    for (const at of [
      [3.05, 56.4],
      [3.0712345, 56.4123456],
    ] as [number, number][]) {
      const back = toLonLat(PLAN, toMetres(PLAN, at));
      expect(back[0]).toBeCloseTo(at[0], 7);
      expect(back[1]).toBeCloseTo(at[1], 7);
    }
  });

  it("has north up and east right", () => {
    expect(toMetres(PLAN, [3.06, 56.4]).x).toBeGreaterThan(0);
    expect(toMetres(PLAN, [3.05, 56.41]).y).toBeLessThan(0);
  });

  it("frames what there is", () => {
    const ring: [number, number][] = [
      [1, 2],
      [3, 2],
      [3, 5],
    ];
    const frame = frameOf([polygonOf(ring), { type: "Point", coordinates: [0, 3] }]);
    expect(frame).toEqual({ west: 0, south: 2, east: 3, north: 5 });
    expect(planOf(frame)).toEqual({ lon: 1.5, lat: 3.5 });
    expect(frameOf([]).east).toBeGreaterThan(0);
  });

  it("closes its rings and reads every kind", () => {
    const polygon = polygonOf([
      [0, 0],
      [1, 0],
      [1, 1],
    ]);
    expect(linesOf(polygon)[0]).toHaveLength(4);
    expect(linesOf({ type: "MultiPolygon", coordinates: [[[[0, 0]]], [[[1, 1]]]] })).toHaveLength(
      2,
    );
    expect(linesOf({ type: "Circle", coordinates: [] })).toEqual([]);
  });

  it("takes round distances for its bar", () => {
    expect(scaleBar(1000)).toBe(200);
    expect(scaleBar(5600)).toBe(1000);
    expect(scaleBar(90)).toBe(10);
  });
});
