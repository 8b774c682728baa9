import { describe, expect, it } from "vitest";
import { ALL, choices, fitting } from "./filter";
import type { BlockLine } from "./queries";

const block = (name: string, changes: Partial<BlockLine> = {}): BlockLine => ({
  id: name.length,
  name,
  area_m2: 10_000,
  outline_m2: null,
  soil_id: 1,
  soil: "Loam",
  crop_key: "potato",
  crop: "Potato",
  planted_on: "2026-05-01",
  stage: "mid season",
  refill_method: "crop_p",
  taw_mm: 60,
  raw_mm: 20,
  system: "drip",
  wetted_share: 0.45,
  ...changes,
});

const ROWS = [
  block("North Field"),
  block("South Field", { crop: null, crop_key: null }),
  block("Hill", { crop: "Wine grape", soil: "Gravel", system: "pivot" }),
];

const names = (search: string) => fitting(ROWS, { ...ALL, search }).map((r) => r.name);

describe("finding blocks in the list", () => {
  it("takes every word, in any column", () => {
    expect(names("field")).toEqual(["North Field", "South Field"]);
    expect(names("FIELD potato")).toEqual(["North Field"]);
    expect(names("  ")).toHaveLength(3);
    expect(names("turnip")).toEqual([]);
  });

  it("narrows by choice, blocks without a crop among them", () => {
    expect(fitting(ROWS, { ...ALL, crop: "no crop" })).toHaveLength(1);
    expect(fitting(ROWS, { ...ALL, system: "pivot", soil: "Gravel" })).toHaveLength(1);
    expect(fitting(ROWS, { ...ALL, system: "pivot", soil: "Loam" })).toHaveLength(0);
  });

  it("offers each value once", () => {
    expect(choices(ROWS, (r) => r.soil)).toEqual(["Gravel", "Loam"]);
  });
});
