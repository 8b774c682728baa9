import { describe, expect, it } from "vitest";
import { shown, text } from "../testing/shown";
import { DesignFields } from "./DesignFields";
import { FIGURES, type SystemKind } from "./designs";
import { DesignResult } from "./DesignResult";
import type { DesignOut } from "./queries";

const PIVOT: DesignOut = {
  rate_mm_h: 0.82,
  peak_rate_mm_h: 99,
  smallest_mm: 9,
  pass_hours: 11,
  pass_mm: 9,
  covered_m2: 380_000,
  set_hours: 30.6,
  set_m3: 9500,
  speed_percent: 36,
  intake: null,
};
const result = (changes: Partial<DesignOut>, areaM2 = 380_000) =>
  text(<DesignResult found={{ ...PIVOT, ...changes }} grossMm={25} areaM2={areaM2} />);

const INTAKE: NonNullable<DesignOut["intake"]> = {
  texture: "silt loam",
  intake_mm_h: 12,
  storage_mm: 7.6,
  runs_off: true,
  safe_mm: 8.6,
  pulses: 3,
  on_hours: 0.5,
  pause_hours: 0.63,
};

describe("what a system comes to", () => {
  it("is said as rate, pass, hours, volume and speed", () => {
    const said = result({});
    expect(said).toContain("0.82 mm/h over the block; where the water falls 99.00 mm/h");
    expect(said).toContain(
      "A pass gives 9.0 mm in 11 h; a smaller depth than 9.0 mm is not practical",
    );
    expect(said).toContain("25.0 mm gross takes 30 h 36, 9,500 m³, at 36 % speed");
  });

  it("says when its figures wet another area than the block's", () => {
    expect(result({})).not.toContain("the block is stated at");
    expect(result({}, 300_000)).toContain("wets 38.00 ha; the block is 30.00 ha");
  });

  it("warns of run-off, with pulses where they help", () => {
    expect(result({ intake: INTAKE })).toContain("3 pulses of 30 min with 38 min between");
    const carried = { ...INTAKE, on_hours: null, pause_hours: null };
    expect(result({ intake: carried })).toContain("Run faster: at most 8.6 mm a pass");
    const steep = { ...carried, storage_mm: 0 };
    expect(result({ intake: steep })).toContain("use smaller nozzles");
  });

  it("says when the soil keeps up", () => {
    const easy = { ...INTAKE, runs_off: false, safe_mm: null };
    expect(result({ intake: easy })).toContain("it keeps up with any application");
    expect(result({ intake: { ...easy, safe_mm: 30 } })).toContain("up to 30.0 mm at one go");
  });
});

const fields = (kind: SystemKind, units: "metric" | "us") =>
  shown(
    <DesignFields kind={kind} form={{}} change={() => undefined} problems={{}} units={units} />,
    units,
  );

describe("the figures asked for", () => {
  it.each(Object.keys(FIGURES) as SystemKind[])("are labelled for %s", (kind) => {
    for (const figure of FIGURES[kind]) {
      expect(fields(kind, "metric")).toContain(figure.label);
    }
  });

  it("carry the person's units", () => {
    expect(fields("pivot", "metric")).toContain("m³/h");
    expect(fields("pivot", "us")).toContain("gal/min");
    expect(fields("solid set sprinkler", "us")).toContain("ft");
  });

  it("show what is missing at its own field", () => {
    const said = text(
      <DesignFields
        kind="drip"
        form={{ emitter_l_h: "2" }}
        change={() => undefined}
        problems={{ "system.design.wetted_fraction": "This figure is needed." }}
        units="metric"
      />,
    );
    expect(said).toContain("This figure is needed.");
  });
});
