import { describe, expect, it } from "vitest";
import { addDays, daysBetween, shortDay } from "./days";

describe("calendar days", () => {
  it("count across months, leap days and clock changes alike", () => {
    expect(addDays("2024-02-28", 2)).toBe("2024-03-01");
    expect(addDays("2026-03-28", 2)).toBe("2026-03-30");
    expect(daysBetween("2026-03-28", "2026-10-26")).toBe(212);
    expect(daysBetween("2026-07-14", "2026-07-01")).toBe(-13);
  });

  it("read as a short day", () => {
    expect(shortDay("2026-07-01")).toBe("1 Jul");
  });
});
