import { expect, it } from "vitest";
import { tickDigits } from "./tickDigits";

it("tells ticks apart and no finer", () => {
  expect(tickDigits([0, 100, 200])).toBe(0);
  expect(tickDigits([0, 1])).toBe(0);
  expect(tickDigits([0, 0.5, 1])).toBe(1);
  expect(tickDigits([0.05, 0.1, 0.15])).toBe(2);
  expect(tickDigits([300])).toBe(0);
  expect(tickDigits([])).toBe(0);
});
