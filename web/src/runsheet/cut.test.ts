import { expect, it } from "vitest";
import { cut } from "./cut";

it("keeps whole words, as many as fit", () => {
  expect(cut("Quern Field", 11)).toBe("Quern Field");
  expect(cut("Quern Field", 10)).toBe("Quern…");
  expect(cut("Quern Field", 5)).toBe("");
  expect(cut("4 h 50 · 20 mm", 9)).toBe("4 h 50…");
  expect(cut("Sallowbank", 6)).toBe("");
});
