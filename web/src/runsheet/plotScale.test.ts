import { describe, expect, it } from "vitest";
import { FarmTime } from "../time/farmTime";
import { aSheet } from "../testing/runSheet";
import { plotScale, slotOfToday, ticks } from "./plotScale";

const { starts } = aSheet({});
const at = (moment: string) => new FarmTime(moment, "CET");

describe("the axis of a run sheet", () => {
  it("begins with today, also on a sheet of days ago", () => {
    expect(slotOfToday(at("2026-07-14T04:10:00Z"), starts)).toBe(0);
    expect(slotOfToday(at("2026-07-16T21:59:00Z"), starts)).toBe(24);
    expect(slotOfToday(at("2026-07-16T22:00:00Z"), starts)).toBe(36);
    expect(slotOfToday(at("2026-09-01T06:00:00Z"), starts)).toBe(108);
  });
  it("lays slots and moments along the same line", () => {
    const scale = plotScale(starts, 24, 5, 100, 700);
    expect(scale.slotX(24)).toBe(100);
    expect(scale.slotX(84)).toBe(700);
    expect(scale.x(starts[36] ?? "")).toBeCloseTo(scale.slotX(36));
  });
  it("names midnights, and hours as there is room", () => {
    const time = at("2026-07-14T04:10:00Z");
    const wide = ticks(time, plotScale(starts, 0, 3, 0, 900), starts);
    expect(wide.midnights).toHaveLength(3);
    expect(wide.hours.map((h) => time.hour(h)).slice(0, 3)).toEqual([6, 12, 18]);
    const narrow = ticks(time, plotScale(starts, 0, 10, 0, 500), starts);
    expect(narrow.hours.map((h) => time.hour(h)).slice(0, 2)).toEqual([12, 12]);
  });
});
