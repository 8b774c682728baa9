import { describe, expect, it } from "vitest";
import type { SiteSeries } from "./queries";
import { columnRows, wallColour, wallDepth, wallPixels } from "./wall";

const site: SiteSeries = {
  label: "P",
  is_tension: false,
  depth_mm: [100, 300],
  hours: [-48, -24, -1],
  value: [],
  fraction: [
    [1, 0],
    [1, null],
    [null, null],
  ],
  doubt: ["", ""],
};

describe("the pit wall", () => {
  it("runs from straw at wilting to water at full", () => {
    expect(wallColour(-0.2)).toEqual(wallColour(0));
    expect(wallColour(1)).toEqual([20, 84, 100]);
    expect(wallColour(9)).toEqual([8, 50, 66]);
  });

  it("holds a reading until the next, and no longer than it may", () => {
    const rows = columnRows([-48, -24], 4, 96);
    expect(rows[10]).toBe(-1);
    expect(rows[60]).toBe(0);
    expect(rows[95]).toBe(1);
    expect(columnRows([], 4, 3)).toEqual(new Int32Array([-1, -1, -1]));
  });

  it("is straight between sensors and clear where nothing is trusted", () => {
    const pixels = wallPixels(site, 2, 400, 48, 40);
    const at = (px: number, py: number) =>
      Array.from(pixels.slice((py * 48 + px) * 4, (py * 48 + px) * 4 + 4));
    expect(at(1, 2)).toEqual([...wallColour(1), 255]);
    expect(at(1, 35)).toEqual([...wallColour(0), 255]);
    expect(at(1, 20)).toEqual([...wallColour(0.475), 255]);
    expect(at(30, 35)).toEqual([...wallColour(1), 255]);
    expect(at(47, 20)[3]).toBe(0);
  });

  it("shows a little below roots and sensors, never beyond the soil that is described", () => {
    expect(wallDepth(site, 600, 1000)).toBe(700);
    expect(wallDepth(site, 980, 1000)).toBe(1000);
  });
});
