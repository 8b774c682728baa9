import { describe, expect, it } from "vitest";
import { BY_FRACTIONS } from "../soils/horizonForm";
import { blockIn, emptyForm, fieldOf, formOf } from "./form";

describe("the block form", () => {
  it("hands horizons on from the surface, each from where the last ends", () => {
    const form = emptyForm("us");
    const [first, second] = blockIn(form, "us").horizons ?? [];
    expect(first?.top_mm).toBe(0);
    expect(first?.bottom_mm).toBeCloseTo(304.8);
    expect(second?.top_mm).toBeCloseTo(304.8);
  });

  it("sends percentages or a class, never both", () => {
    const form = emptyForm("metric");
    const [top] = form.horizons;
    if (top) Object.assign(top, { texture: BY_FRACTIONS, sand: "40", silt: "40", clay: "20" });
    const [sent, other] = blockIn(form, "metric").horizons ?? [];
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
    const typed = { name: "A", area: "12.5", rate: "0.2", largest: "1.5", soil: "7" };
    const form = { ...emptyForm("us"), ...typed };
    const sent = blockIn(form, "us");
    expect(sent.horizons).toEqual([]);
    const back = formOf({ ...sent, id: 1, refill_method: "crop_p" }, "us");
    expect(back).toMatchObject(typed);
  });

  it("saves a block unchanged where nothing was typed, whatever the unit", () => {
    const metric = {
      ...emptyForm("metric"),
      name: "A",
      soil: "7",
      area: "12.34",
      rate: "4.2",
      smallest: "7.3",
      largest: "31",
      rainRoom: "4.1",
      rise: "0.37",
      table: "133",
    };
    const stored = { ...blockIn(metric, "metric"), id: 1, refill_method: "crop_p" as const };
    expect(formOf(stored, "us")).toMatchObject({ area: "30.493", rate: "0.1654", table: "52.36" });
    expect({ ...blockIn(formOf(stored, "us"), "us", stored), id: 1 }).toEqual(stored);
    const drip = { emitter_l_h: "2.3", emitter_spacing_m: "0.37", line_spacing_m: "1.53" };
    const form = { ...metric, kind: "drip" as const, knownBy: "design" as const, design: drip };
    const designed = { ...stored, ...blockIn(form, "metric") };
    const again = blockIn(formOf(designed, "us"), "us", designed);
    expect(again.system).toEqual(designed.system);
  });

  it("sends the design's figures only when the system is known by them", () => {
    const figures = { emitter_l_h: "2", emitter_spacing_m: "0.4", line_spacing_m: "1.5" };
    const form = { ...emptyForm("metric"), kind: "drip" as const, design: figures, rate: "3" };
    expect(blockIn(form, "metric").system.design).toEqual({});
    const sent = blockIn({ ...form, knownBy: "design" }, "metric").system;
    expect(sent.rate_mm_h).toBeNull();
    expect(sent.design).toMatchObject({ emitter_l_h: 2, wetted_fraction: null });
  });

  it("knows the field of each of the server's problems", () => {
    expect(fieldOf("horizons.1.bottom_mm")).toBe("horizons.1.bottom");
    expect(fieldOf("horizons.0.sand")).toBe("horizons.0.sand");
    expect(fieldOf("system.rate_mm_h")).toBe("rate");
    expect(fieldOf("name")).toBe("name");
  });
});
