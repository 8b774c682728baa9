import { expect, it } from "vitest";
import { clockOf, hourOf } from "./clock";

it("shows hours as a clock does, and reads them back", () => {
  expect([0, 6.5, 22, 24].map(clockOf)).toEqual(["00:00", "06:30", "22:00", "24:00"]);
  expect(["6", "06:30", "22.15", "24:00"].map(hourOf)).toEqual([6, 6.5, 22.25, 24]);
  expect(["", "25", "6:75", "six", "24:30"].map(hourOf)).toEqual([null, null, null, null, null]);
});
