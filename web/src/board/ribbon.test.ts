import { scaleLinear } from "d3-scale";
import { describe, expect, it } from "vitest";
import type { BoardRow } from "./queries";
import { pastBands, ribbonShape, shareAt } from "./ribbon";

const x = scaleLinear().domain([-168, 240]).range([0, 408]);

function row(usable: (number | null)[], ahead: number[]): BoardRow {
  return {
    past: usable.map((u, i) => ({
      hours: -168 + i * 24,
      usable_mm: u,
      surplus_mm: u === null ? null : 0,
      raw_mm: 20,
    })),
    ahead: ahead.map((u, day) => ({
      day,
      dry_mm: u - 2,
      usable_mm: u,
      wet_mm: u + 2,
      raw_mm: 20,
    })),
  } as BoardRow;
}

describe("the ribbon", () => {
  it("is as thick as the share left above refill", () => {
    const bands = pastBands(row([20, 10, 0, 0, 0, 0, 0, 0], [0]));
    expect(shareAt(bands, -168)).toBe(1);
    expect(shareAt(bands, -156)).toBe(0.75);
  });

  it("cracks only where it is past refill", () => {
    const shape = ribbonShape(row([10, 10, 10, 10, 10, 10, 10, 10], [10, 0, -10, -20]), x, 20, 15);
    expect(shape.cracks.length).toBeGreaterThan(0);
    expect(shape.cracks.every((c) => c.ahead && x.invert(c.x) > 24)).toBe(true);
  });

  it("leaves the unknown open", () => {
    const shape = ribbonShape(row([10, 10, null, null, null, null, null, null], []), x, 20, 15);
    expect(shape.silent).toEqual([[24, 168]]);
    expect(shareAt(pastBands(row([10, null, null, 10], [])), -130)).toBeNull();
  });

  it("says nothing for a block never heard of", () => {
    const shape = ribbonShape(row([null, null], []), x, 20, 15);
    expect(shape.past).toBe("");
    expect(shape.silent).toEqual([[0, 168]]);
  });
});
