import { expect, test } from "vitest";
import { rainWords } from "./EtStatement";

const day = { date: "2026-07-16", chance: 0.4, likely_mm: 0 };

test.each([
  [[], "no rain counted on"],
  [[day], "no rain sure enough to count on"],
  [[day, { ...day, chance: 0.7, likely_mm: 6 }], "6.0 mm of rain counted on"],
])("the rain that the dates count on", (ahead, words) => {
  expect(rainWords(ahead, "metric")).toBe(words);
});
