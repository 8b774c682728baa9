import { describe, expect, it } from "vitest";
import { shown, text } from "../testing/shown";
import { CropCurve } from "./CropCurve";
import { CropEditor } from "./CropEditor";
import type { Crop } from "./queries";
import { SeasonFields } from "./SeasonFields";

const nothing = () => undefined;

const MAIZE: Crop = {
  key: "maize-grain",
  name: "Maize, grain",
  group: "cereal",
  own: false,
  book_key: "maize-grain",
  calendar: "April",
  perennial: false,
  surface: "grass",
  kc: [0.3, 1.2, 0.6],
  stage_days: [2, 2, 2, 2],
  root_initial_mm: 200,
  root_schedule_mm: 1000,
  root_deep_mm: 1700,
  p: 0.55,
  tension_kpa: 50,
  counts_warmth: true,
  scales_with_cover: false,
  is_cut: false,
  blocks: 0,
  sources: {},
  reason: "",
  height_m: 4.5,
  kcb: null,
  ky_season: 1.25,
  windows: [
    { name: "flowering", start: 1.8, end: 2.4, ky: 1.5 },
    { name: "ripening", start: 3.3, end: 4, ky: 0.2 },
  ],
  salt: { threshold_ds_m: 1.7, slope_percent: 12 },
  degree_days: { method: "cut-off", base_c: 10, upper_c: 30, stage_sums: [200, 480, 520, 260] },
  canopy: null,
  cutting: null,
  stages: [],
  differences: [],
  curve_kc: [0.3, 0.3, 0.3, 0.75, 1.2, 1.2, 1.2, 0.9, 0.6],
  curve_root_mm: [200, 200, 200, 600, 1000, 1000, 1000, 1000, 1000],
};

describe("a crop's season", () => {
  it("is drawn with its stages and the windows that cost yield", () => {
    const said = text(<CropCurve crop={MAIZE} units="metric" />);
    expect(said).toContain("flowering, Ky 1.50");
    expect(said).not.toContain("ripening");
    expect(said.match(/2 d/g)).toHaveLength(4);
    expect(said).toContain("100");
    expect(shown(<CropCurve crop={MAIZE} units="us" />)).toContain("39.4");
  });

  it("draws no broken path, whatever the crop", () => {
    const flat = { ...MAIZE, windows: [], curve_kc: [1, 1], curve_root_mm: [300, 300] };
    expect(shown(<CropCurve crop={flat} units="metric" />)).not.toContain("NaN");
  });
});

const form = (units: "metric" | "us") =>
  shown(<CropEditor crop={MAIZE} units={units} close={nothing} saved={nothing} />, units);

describe("a copy of one's own", () => {
  it("starts from the book's values in the person's units", () => {
    expect(form("metric")).toContain('value="100"');
    expect(form("us")).toContain('value="39.37"');
    expect(form("metric")).toContain('placeholder="Maize, grain, own"');
    expect(form("metric")).toContain('value="520"');
  });
});

describe("a season's fields", () => {
  it("say what is wrong where it is wrong", () => {
    const said = text(
      <SeasonFields
        form={{ crop: "", planted: "", clock: "days" }}
        change={nothing}
        problems={{ planted_on: "A crop needs its planting date.", clock: "no degree-days" }}
      />,
    );
    expect(said).toContain("A crop needs its planting date.");
    expect(said).toContain("no degree-days");
  });
});
