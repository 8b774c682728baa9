import { expect, test } from "vitest";
import { rainWords } from "./EtStatement";

const day = { date: "2026-07-16", chance: 0.4, likely_mm: 0 };

test.each([
  [[], "no rain counted"],
  [[day], "no rain certain enough to count"],
  [[day, { ...day, chance: 0.7, likely_mm: 6 }], "6.0 mm of rain expected"],
])("the rain that the dates count on", (ahead, words) => {
  expect(rainWords(ahead, "metric")).toBe(words);
});
