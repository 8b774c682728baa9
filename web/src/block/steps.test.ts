import { describe, expect, it } from "vitest";
import type { Step } from "./queries";
import { inFigures, inSymbols, shown } from "./steps";

const raw: Step = {
  key: "raw",
  result: "RAW",
  formula: "p * TAW",
  terms: [
    { symbol: "p", value: 0.311, unit: "share", source: "" },
    { symbol: "TAW", value: 55.156, unit: "water_mm", source: "" },
  ],
  value: 17.1535,
  unit: "water_mm",
};

describe("a step of the working", () => {
  it("reads in symbols and in figures", () => {
    expect(inSymbols(raw)).toBe("RAW = p × TAW");
    expect(inFigures(raw, "metric")).toBe("0.311 × 55.156 = 17.2 mm");
    expect(inFigures(raw, "us")).toBe("0.311 × 2.17150 = 0.68 in");
  });

  it("keeps the equation that needs mm/day in mm/day", () => {
    const p: Step = {
      ...raw,
      formula: "within(0.1, pt + 0.04 * (5 - ETc), 0.8)",
      terms: [
        { symbol: "pt", value: 0.35, unit: "share", source: "" },
        { symbol: "ETc", value: 5.98, unit: "equation_mm_day", source: "" },
      ],
      value: 0.311,
      unit: "share",
    };
    expect(inFigures(p, "us")).toBe("within(0.1, 0.350 + 0.04 × (5 − 5.98), 0.8) = 31.1 %");
  });

  it("carries the factor between depth, area and volume", () => {
    const volume: Step = {
      ...raw,
      key: "volume",
      formula: "gross * area",
      terms: [
        { symbol: "gross", value: 25.4, unit: "water_mm", source: "" },
        { symbol: "area", value: 40468.564224, unit: "area_m2", source: "" },
      ],
      value: 1027.9015312896,
      unit: "volume_m3",
    };
    expect(inFigures(volume, "metric")).toBe("25.4 × 4.04686 × 10 = 1,028 m³");
    expect(inFigures(volume, "us")).toBe("1.00 × 10.00 × 27,154.3 = 271,500 gal");
  });

  it("shows every kind of figure", () => {
    expect(shown(400, "depth_mm", "metric")).toBe("400 mm");
    expect(shown(11.4, "hours", "metric")).toBe("11 h 24");
    expect(shown(0.5, "share", "metric")).toBe("50.0 %");
    expect(shown(2.04, "days", "us")).toBe("2.0 days");
  });
});
