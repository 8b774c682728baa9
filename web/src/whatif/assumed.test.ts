import { describe, expect, it } from "vitest";
import type { BlockData } from "../block/queries";
import { anAnswer } from "../testing/answers";
import { asItIs, isOther, whatIfIn } from "./assumed";

const block = { answer: anAnswer() } as BlockData;

describe("what is assumed", () => {
  const start = asItIs(block, 82.4);

  it("begins as things are, with the advised set to move about", () => {
    expect(start.startHours).toBe(82);
    expect(start.runHours).toBe(11.5);
    expect(isOther(start)).toBe(false);
    expect(whatIfIn(start, "metric")).toEqual({
      no_set: false,
      set_start_hours: null,
      set_hours: null,
      rain_mm: null,
      et_factor: 1,
      stage_key: null,
      refill_method: null,
      estimate_from: null,
      rain_room_mm: null,
    });
  });

  it("keeps a start within the days that are shown", () => {
    expect(asItIs(block, 700).startHours).toBe(240);
    expect(asItIs(block, null).startHours).toBe(24);
  });

  it("puts the rain on one day and leaves the others dry", () => {
    const wet = { ...start, rain: true, rainDay: 1, rainMm: 12 };
    expect(isOther(wet)).toBe(true);
    expect(whatIfIn(wet, "metric").rain_mm).toEqual([0, 12, 0, 0, 0, 0, 0, 0, 0, 0]);
  });

  it("sends what was typed in the server's units", () => {
    const said = whatIfIn({ ...start, set: true, room: "0.5", etPercent: 130 }, "us");
    expect(said.rain_room_mm).toBeCloseTo(12.7);
    expect(said.et_factor).toBeCloseTo(1.3);
    expect(said.set_start_hours).toBe(82);
  });
});
