import { describe, expect, it } from "vitest";
import samples from "../../../tests/figures.json";
import {
  figure,
  forForm,
  runningTime,
  typed,
  UNKNOWN,
  waterShort,
  withUnit,
  type MeasureName,
} from "./format";

describe("figures in the person's units", () => {
  it.each(samples as [number | null, MeasureName, string, string][])(
    "%d %s",
    (value, name, metric, us) => {
      expect(withUnit(value, "metric", name)).toBe(metric);
      expect(withUnit(value, "us", name)).toBe(us);
    },
  );

  it("puts 27,154 US gallons on an inch over an acre", () => {
    const cubicMetres = (25.4 / 1000) * 4046.8564224;
    expect(figure(cubicMetres, "us", "volume")).toBe("27,154");
  });

  it("shows the unknown as unknown, never as zero", () => {
    for (const value of [null, undefined, Number.NaN, Number.POSITIVE_INFINITY]) {
      expect(withUnit(value, "metric", "water")).toBe(UNKNOWN);
    }
    expect(runningTime(null)).toBe(UNKNOWN);
  });

  it("leaves no minus on a zero", () => {
    expect(figure(-0.01, "metric", "water")).toBe("0.0");
  });

  it("rounds the board's water as the unit deserves", () => {
    expect(waterShort(31.4, "metric")).toBe("31 mm");
    expect(waterShort(31.4, "us")).toBe("1.24 in");
  });
});

describe("running time", () => {
  it.each([
    [7.3333, "7 h 20"],
    [7.999, "8 h"],
    [0.5, "30 min"],
    [11, "11 h"],
    [31.1, "31 h 06"],
  ])("%d h", (hours, text) => expect(runningTime(hours)).toBe(text));
});

describe("what a person types", () => {
  it("is taken in his unit", () => {
    expect(typed("12", "us", "depth")).toBeCloseTo(304.8);
    expect(typed("30", "metric", "depth")).toBe(300);
    expect(typed("2,5", "metric", "area")).toBe(25000);
  });
  it("is null when it is no number", () => {
    expect(typed("", "metric", "depth")).toBeNull();
    expect(typed("ten", "metric", "depth")).toBeNull();
  });
  it("comes back as it went in", () => {
    for (const units of ["metric", "us"] as const) {
      expect(forForm(typed("12.5", units, "water"), units, "water")).toBe("12.5");
    }
  });
  it("stands on a form without the digits that a conversion makes, and keeps them", () => {
    // 4.2 mm/h ÷ 25.4 = 0.165354… in/h
    expect(forForm(4.2, "us", "rate")).toBe("0.1654");
    expect(typed("0.1654", "us", "rate", 4.2)).toBe(4.2);
    expect(typed("0.165", "us", "rate", 4.2)).toBeCloseTo(4.191);
    expect(typed("", "us", "rate", 4.2)).toBeNull();
    expect(forForm(12.3456, "metric", "rate")).toBe("12.3456");
  });
});
