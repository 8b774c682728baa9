import { expect, test } from "vitest";
import { clockWord } from "./words";

test.each([
  [null, "–"],
  [20, "correct"],
  [-3600, "1 h slow"],
  [180, "3 min fast"],
  [-200_000, "2 d slow"],
])("a clock %s seconds off", (skew, word) => {
  expect(clockWord(skew)).toBe(word);
});
