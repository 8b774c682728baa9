import { expect, test } from "vitest";
import { shown } from "../testing/shown";
import type { Roots } from "./queries";
import { RootActivity } from "./RootActivity";

const ROOTS: Roots = {
  instrument: "Probe Q1",
  days: 8,
  layers: [
    { depth_mm: 100, uptake_mm: 3.2 },
    { depth_mm: 300, uptake_mm: -0.1 },
    { depth_mm: 500, uptake_mm: null },
  ],
  low_mm: 300,
  feeds_mm: 420,
  high_mm: 540,
  root_mm: 400,
  fit: "fits",
};

const said = (roots: Roots) =>
  shown(<RootActivity roots={roots} units="metric" />, "metric")
    .replaceAll(/<[^>]*>/g, " ")
    .replaceAll(/\s+/g, " ")
    .trim();

test("how deep roots feed, beside the depth that is used", () => {
  const text = said(ROOTS);
  expect(text).toContain("On the last 8 dry days 90 % of the water was taken above 42 cm (30–54).");
  expect(text).toContain("The root depth used, 40 cm, fits.");
  expect(text).toContain("10 cm 3.2 mm/day");
  expect(text).toContain("30 cm 0.0 mm/day");
  expect(text).toContain("50 cm not known");
});

test.each([
  ["deeper", "is shallow for that"],
  ["fits", "fits"],
  ["shallower", "is deep for that"],
] as const)("roots that feed %s than assumed", (fit, words) => {
  expect(said({ ...ROOTS, fit })).toContain(words);
});

test("roots below the deepest sensor", () => {
  const below = { ...ROOTS, feeds_mm: null, high_mm: null, low_mm: 600, root_mm: 900 };
  expect(said(below)).toContain("roots feed deeper than 60 cm");
  expect(said(below)).toContain("fits");
  expect(said({ ...ROOTS, high_mm: null })).toContain("above 42 cm (30 or deeper)");
});

test("without a crop no root depth is used", () => {
  expect(said({ ...ROOTS, root_mm: null, fit: null })).not.toContain("root depth");
});
