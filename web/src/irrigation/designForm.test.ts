import { describe, expect, it } from "vitest";
import { designForm, designIn, hasDesign } from "./designForm";
import { FIGURES } from "./designs";

describe("the figures of a system", () => {
  it("come back as they were in either units", () => {
    const design = { flow_m3_h: 310, length_m: 340, turn_hours: 11, wetted_width_m: 18 };
    for (const units of ["metric", "us"] as const) {
      const back = designIn("pivot", designForm("pivot", design, units), units, design);
      for (const [name, value] of Object.entries(design)) {
        expect(back[name]).toBe(value);
      }
      expect(back["end_gun_m"]).toBeNull();
    }
  });

  it("take percent for the wetted ground", () => {
    expect(designIn("drip", { wetted_fraction: "45" }, "metric")["wetted_fraction"]).toBe(0.45);
    expect(designForm("drip", { wetted_fraction: 0.45 }, "metric")["wetted_fraction"]).toBe("45");
  });

  it("know when nothing is typed, and every kind", () => {
    expect(hasDesign("drip", {})).toBe(false);
    expect(hasDesign("drip", { emitter_l_h: "2" })).toBe(true);
    expect(hasDesign("drip", { length_m: "2" })).toBe(false);
    expect(Object.keys(FIGURES)).toHaveLength(10);
  });
});
