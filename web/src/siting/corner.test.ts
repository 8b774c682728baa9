import { expect, test } from "vitest";
import { cornerOf, cornerText } from "./corner";

test.each([
  ["56.4012, 3.0511", 56.4012, 3.0511],
  ["56.4012 3.0511", 56.4012, 3.0511],
  ["56,4012; 3,0511", 56.4012, 3.0511],
  ["-33.5,-70.25", -33.5, -70.25],
  ["6250000, 410000", 6250000, 410000],
])("%s is a corner", (text, north, east) => {
  expect(cornerOf(text)).toEqual({ east, north });
});

test.each(["", "56.4", "56.4, x", "1, 2, 3"])("%s is none", (text) => {
  expect(cornerOf(text)).toBeNull();
});

test("a corner is shown as it is typed", () => {
  expect(cornerText({ east: 3.05, north: 56.4 })).toBe("56.4, 3.05");
  expect(cornerText(undefined)).toBe("");
});
