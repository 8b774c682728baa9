import { describe, expect, it } from "vitest";
import { workedOut } from "../testing/calculator";
import workings from "../testing/workings.json";
import { UNKNOWN, type UnitSystem } from "../units/format";
import type { Step } from "./queries";
import { inFigures } from "./steps";

/* What a person with a calculator does: the figures of a line as they stand on screen, worked out,
   against the result beside them. Steps of three blocks of the demo. */

/** The result as shown and half of its last digit, as plain numbers. */
function read(result: string): { value: number; half: number } {
  const clock = /^(?:(\d+) h)? ?(?:(\d+)(?: min)?)?$/.exec(result);
  if (clock && / h|min$/.test(result)) {
    return { value: Number(clock[1] ?? 0) + Number(clock[2] ?? 0) / 60, half: 0.5 / 60 };
  }
  const found = /-?[\d,]+(?:\.(\d+))?/.exec(result);
  const scale = result.endsWith("%") ? 0.01 : 1;
  const value = Number((found?.[0] ?? UNKNOWN).replaceAll(",", ""));
  const hundreds = result.endsWith("gal") && value >= 100_000;
  const digits = hundreds ? -2 : (found?.[1] ?? "").length;
  return { value: value * scale, half: 0.5 * 10 ** -digits * scale };
}

const CASES = Object.entries(workings).flatMap(([block, steps]) =>
  (["metric", "us"] as const).map((units): [string, UnitSystem, Step[]] => [
    block,
    units,
    steps as Step[],
  ]),
);

describe("the figures on screen", () => {
  it.each(CASES)("of %s give what stands beside them, in %s units", (_, units, steps) => {
    expect(steps.length).toBeGreaterThan(15);
    for (const step of steps) {
      const line = inFigures(step, units);
      const at = line.lastIndexOf(" = ");
      const { value, half } = read(line.slice(at + 3));
      expect(Math.abs(workedOut(line.slice(0, at)) - value), line).toBeLessThan(half * 1.001);
    }
  });

  it("would not do for a result that is off by its last digit", () => {
    expect(workedOut("(24.6 − 4) ÷ 0.85")).toBeCloseTo(24.235, 3);
    expect(read("5 h 36")).toEqual({ value: 5.6, half: 0.5 / 60 });
    expect(read("20.1 %")).toEqual({ value: 0.201, half: 0.0005 });
    expect(read("220,100 gal")).toEqual({ value: 220_100, half: 50 });
  });
});
