import { describe, expect, it } from "vitest";
import { blockIn, BY_FRACTIONS, emptyForm, fieldOf, formOf } from "./form";

describe("the block form", () => {
  it("hands horizons on from the surface, each from where the last ends", () => {
    const form = emptyForm("us");
    const [first, second] = blockIn(form, "us").horizons;
    expect(first?.top_mm).toBe(0);
    expect(first?.bottom_mm).toBeCloseTo(304.8);
    expect(second?.top_mm).toBeCloseTo(304.8);
  });

  it("sends percentages or a class, never both", () => {
    const form = emptyForm("metric");
    const [top] = form.horizons;
    if (top) Object.assign(top, { texture: BY_FRACTIONS, sand: "40", silt: "40", clay: "20" });
    const [sent, other] = blockIn(form, "metric").horizons;
    expect(sent).toMatchObject({ texture: null, sand: 40, silt: 40, clay: 20 });
    expect(other).toMatchObject({ texture: "loam", sand: null });
  });

  it("leaves the unknown out instead of sending a zero", () => {
    const sent = blockIn({ ...emptyForm("metric"), rate: "" }, "metric");
    expect(sent.system.rate_mm_h).toBeNull();
    expect(sent.system.flow_m3_h).toBeNull();
    expect(sent.crop_key).toBeNull();
  });

  it("comes back from the server as it was typed", () => {
    const form = { ...emptyForm("us"), name: "A", area: "12.5", rate: "0.2", largest: "1.5" };
    const sent = blockIn(form, "us");
    expect(formOf({ ...sent, id: 1 }, "us")).toEqual(form);
  });

  it("knows the field of each of the server's problems", () => {
    expect(fieldOf("horizons.1.bottom_mm")).toBe("horizons.1.bottom");
    expect(fieldOf("horizons.0.sand")).toBe("horizons.0.sand");
    expect(fieldOf("system.rate_mm_h")).toBe("rate");
    expect(fieldOf("name")).toBe("name");
  });
});
