import { deflateSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { cellAt, levelsOf, metresOf, positionOf, summed, valueOf } from "./levels";

const PLACE: Parameters<typeof cellAt>[0] = {
  zero: [10, 50],
  metres_per_degree: [71_700, 111_230],
  west: -50,
  north: 40,
  cell_m: 10,
  rows: 8,
  cols: 10,
};

describe("a packed raster", () => {
  it("adds steps up modulo 102", () => {
    expect([...summed(Uint8Array.of(5, 0, 100, 99))]).toEqual([5, 5, 3, 0]);
  });

  it("opens what was deflated", async () => {
    const data = deflateSync(Uint8Array.of(1, 100, 1)).toString("base64");
    expect([...(await levelsOf({ data, low: 0, high: 1 }))]).toEqual([1, 101, 0]);
  });

  it("says nothing of level 0, and the bounds of the first and last", () => {
    expect([0, 1, 51, 101].map((l) => valueOf(l, { low: 10, high: 72 }))).toEqual([
      null,
      10,
      41,
      72,
    ]);
  });
});

describe("a place on the raster", () => {
  it("is found in the cell it lies in", () => {
    expect(cellAt(PLACE, { x: -50, y: 40 })).toBe(0);
    expect(cellAt(PLACE, { x: 49.9, y: -39.9 })).toBe(79);
    expect(cellAt(PLACE, { x: 50, y: 0 })).toBe(-1);
  });

  it("goes to degrees and back", () => {
    const { x, y } = metresOf(PLACE, positionOf(PLACE, { x: 123.4, y: -45.6 }));
    expect(x).toBeCloseTo(123.4, 1);
    expect(y).toBeCloseTo(-45.6, 1);
  });
});
