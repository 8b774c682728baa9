import { describe, expect, it } from "vitest";
import { cropForm, cropIn } from "./cropForm";
import type { Crop } from "./queries";

const WALNUT: Crop = {
  key: "walnut",
  name: "Walnut",
  group: "fruit",
  own: false,
  book_key: "walnut",
  calendar: "April",
  perennial: true,
  surface: "grass",
  kc: [0.5, 1.1, 0.65],
  stage_days: [20, 10, 130, 30],
  root_initial_mm: 1700,
  root_schedule_mm: 1700,
  root_deep_mm: 2400,
  p: 0.5,
  tension_kpa: 65,
  counts_warmth: false,
  scales_with_cover: true,
  is_cut: false,
  blocks: 0,
  sources: {},
  reason: "",
  height_m: 4.5,
  kcb: null,
  ky_season: null,
  windows: [],
  salt: null,
  degree_days: null,
  canopy: { height_m: 5, cover: 0.7 },
  cutting: null,
  stages: [],
  differences: [],
  curve_kc: [],
  curve_root_mm: [],
};

describe("a crop's form", () => {
  it("comes back as the book has it when nothing is typed, in either units", () => {
    for (const units of ["metric", "us"] as const) {
      const sent = cropIn(cropForm(WALNUT, units), "walnut", units);
      expect(sent.canopy).toEqual(WALNUT.canopy);
      expect(sent.kc).toEqual(WALNUT.kc);
      expect(sent.salt).toBeNull();
      expect(sent.degree_days).toBeNull();
      expect(sent.root_schedule_mm).toBe(1700);
      expect(sent.height_m).toBe(4.5);
      expect(sent.kcb).toBeNull();
    }
  });

  it("asks for a name of its own and keeps a decimal comma", () => {
    const form = cropForm(WALNUT, "metric");
    expect(form.name).toBe("");
    const sent = cropIn({ ...form, name: "Wick walnut", p: "0,45" }, "walnut", "metric");
    expect(sent.p).toBe(0.45);
    expect(sent.book_key).toBe("walnut");
  });

  it("sends basal values once one is typed, a missing one as what can't be", () => {
    const form = { ...cropForm(WALNUT, "metric"), kcb: ["0.4", "1.05", ""] };
    expect(cropIn(form, "walnut", "metric").kcb).toEqual([0.4, 1.05, 0]);
  });

  it("needs every sum for degree-days", () => {
    const form = { ...cropForm(WALNUT, "metric"), warmthBase: "5" };
    expect(cropIn(form, "walnut", "metric").degree_days).toBeNull();
    const whole = { ...form, warmth: ["100", "200", "900", "300"] };
    expect(cropIn(whole, "walnut", "metric").degree_days).toEqual({
      method: "cut-off",
      base_c: 5,
      upper_c: null,
      stage_sums: [100, 200, 900, 300],
    });
  });
});
