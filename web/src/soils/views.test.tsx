import { describe, expect, it } from "vitest";
import { shown, text } from "../testing/shown";
import { HorizonFields } from "./HorizonFields";
import {
  BY_FRACTIONS,
  EMPTY_HORIZON,
  firstHorizons,
  horizonFieldOf,
  horizonForm,
  horizonsIn,
} from "./horizonForm";
import { holds, Methods } from "./Methods";
import { ProfileDrawing } from "./ProfileDrawing";
import type { HorizonOut, SoilPreview } from "./queries";
import { RetentionPlot } from "./RetentionPlot";
import { Triangle } from "./Triangle";

const nothing = () => undefined;

const horizon: HorizonOut = {
  top_mm: 0,
  bottom_mm: 300,
  texture: "loam",
  sand: 40,
  clay: 20,
  theta_full: 0.274,
  theta_wilt: 0.134,
  theta_sat: 0.46,
  sigma_full: 0.05,
  sigma_wilt: 0.02,
  full_tension_kpa: 33,
  ksat_mm_h: 16,
  intake_mm_h: 15,
  source: "Saxton & Rawls 2006",
  clamped: false,
  available_mm_per_m: 140,
  sigma_mm_per_m: 54,
  methods: [
    {
      method: "regression",
      source: "Saxton & Rawls 2006",
      theta_full: 0.274,
      theta_wilt: 0.134,
      available_mm_per_m: 140,
      sigma_mm_per_m: 54,
      problem: "",
    },
    {
      method: "measured",
      source: "",
      theta_full: null,
      theta_wilt: null,
      available_mm_per_m: null,
      sigma_mm_per_m: null,
      problem: "Measured limits need the content at 33 and at 1500 kPa.",
    },
  ],
  curves: [
    { shape: "power", in_force: true, theta: [0.46, 0.35, 0.134] },
    { shape: "rosetta", in_force: false, theta: [0.4, 0.33, 0.13] },
  ],
};

const preview: SoilPreview = {
  horizons: [horizon],
  tensions_kpa: [1, 33, 1500],
  root_limit_mm: 300,
  root_mm: null,
  taw_mm: null,
  raw_mm: null,
  stage: null,
  ece: null,
  relative_yield: null,
};

describe("the methods", () => {
  it("stand beside each other with their uncertainty, and say why one can't be asked", () => {
    const said = text(<Methods horizon={horizon} method="regression" choose={nothing} />);
    expect(said).toContain("Texture regression (Saxton &amp; Rawls) · in force");
    expect(said).toContain("0.274 0.134 140 ± 54 mm/m");
    expect(said).toContain("need the content at 33 and at 1500 kPa. – – –");
  });

  it("speak per foot in US units", () => {
    expect(holds(140, 54, "us")).toBe("1.68 ± 0.65 in/ft");
    expect(holds(140, null, "metric")).toBe("140 mm/m");
    expect(holds(null, null, "us")).toBe("–");
  });
});

describe("the plot", () => {
  it("names every curve and the one in force, and marks own points", () => {
    const drawn = shown(
      <RetentionPlot
        horizon={horizon}
        tensions={preview.tensions_kpa}
        points={[{ tension_kpa: 33, theta: 0.28 }]}
      />,
    );
    expect(drawn).toContain("Saxton–Rawls, in force");
    expect(drawn).toContain("Rosetta");
    expect(drawn.match(/<circle/g)).toHaveLength(1);
    expect(drawn).not.toContain("NaN");
  });

  it("finds a place for a point at saturation", () => {
    const drawn = shown(
      <RetentionPlot
        horizon={horizon}
        tensions={preview.tensions_kpa}
        points={[{ tension_kpa: 0, theta: 0.45 }]}
      />,
    );
    expect(drawn).not.toContain("NaN");
    expect(drawn).not.toContain("Infinity");
  });
});

describe("the profile", () => {
  const typed = horizonsIn([{ ...EMPTY_HORIZON, bottom: "30", stopsRoots: true }], "metric");
  it("shows texture, water and what stops roots", () => {
    const drawn = shown(
      <ProfileDrawing
        horizons={typed}
        preview={preview}
        seen={[{ block_id: 3, block: "Quern Field", index: 0, seen: 0.31, low: 0.3, high: 0.325 }]}
        chosen={0}
        choose={nothing}
        move={nothing}
        units="metric"
      />,
    );
    expect(drawn).toContain("Horizon 1, loam to 30 cm");
    expect(drawn).toContain('aria-pressed="true"');
    expect(drawn).toContain("42 mm");
    expect(drawn).toContain("rust");
    expect(text(drawn)).toContain("Quern Field: full point seen 0.310 (0.300–0.325)");
  });

  it("draws without limits while they are being fetched", () => {
    const drawn = shown(
      <ProfileDrawing
        horizons={typed}
        preview={undefined}
        seen={[]}
        chosen={0}
        choose={nothing}
        move={nothing}
        units="us"
      />,
    );
    expect(drawn).not.toContain("NaN");
    expect(drawn).toContain("11.8");
  });
});

describe("the triangle", () => {
  const patch = {
    texture: "sandy clay loam" as const,
    sand: [80, 52, 45],
    clay: [20, 20, 27],
    label_sand: 60,
    label_clay: 25,
  };
  it("says where the mark stands, to who can't see it", () => {
    const drawn = shown(<Triangle triangle={[patch]} sand={40} clay={20} choose={nothing} />);
    expect(drawn).toContain('aria-valuetext="sand 40 %, silt 40 %, clay 20 %"');
    expect(drawn.match(/<circle/g)).toHaveLength(2);
  });

  it("has no mark before a texture is chosen", () => {
    const drawn = shown(<Triangle triangle={[patch]} sand={null} clay={null} choose={nothing} />);
    expect(drawn).toContain("no texture chosen");
    expect(drawn).not.toContain("<circle");
  });
});

const draw = (texture: string) =>
  text(
    <HorizonFields
      horizon={{ ...EMPTY_HORIZON, texture }}
      index={0}
      errors={{ sand: "they must add to 100 %", points: "keep one" }}
      textures={[]}
      change={nothing}
      byHand={nothing}
    />,
  );

describe("a horizon's form", () => {
  it("comes back from the server as it was typed", () => {
    const form = {
      ...EMPTY_HORIZON,
      bottom: "12",
      texture: BY_FRACTIONS,
      sand: "40",
      silt: "40",
      clay: "20",
      density: "1.4",
      ece: "1.9",
      method: "fitted",
      curve: "rosetta",
      points: [
        { tension: "10", theta: "0.34" },
        { tension: "33", theta: "0.28" },
        { tension: "100", theta: "0.2" },
        { tension: "1500", theta: "0.12" },
      ],
    };
    const [sent] = horizonsIn([form], "us");
    expect(sent?.points).toHaveLength(4);
    expect(sent?.texture).toBeNull();
    expect(sent && horizonForm(sent, "us")).toEqual(form);
  });

  it("keeps the boundaries that nobody typed, whatever the unit", () => {
    const stored = horizonsIn(
      [
        { ...EMPTY_HORIZON, bottom: "33.3" },
        { ...EMPTY_HORIZON, bottom: "100" },
      ],
      "metric",
    );
    const form = stored.map((h) => horizonForm(h, "us"));
    expect(form.map((h) => h.bottom)).toEqual(["13.11", "39.37"]);
    expect(horizonsIn(form, "us", stored)).toEqual(stored);
  });

  it("leaves out points without a content, and limits that are not learned", () => {
    const [sent] = horizonsIn([{ ...EMPTY_HORIZON, full: "0.3", wilt: "0.1" }], "metric");
    expect(sent?.points).toEqual([]);
    expect(sent?.theta_full).toBeNull();
    const [learned] = horizonsIn(
      [{ ...EMPTY_HORIZON, method: "learned", full: "0,3", wilt: "0.1" }],
      "metric",
    );
    expect(learned?.theta_full).toBe(0.3);
  });

  it("begins at depths people think in", () => {
    expect(firstHorizons("metric").map((h) => h.bottom)).toEqual(["30", "100"]);
    expect(firstHorizons("us").map((h) => h.bottom)).toEqual(["12", "40"]);
  });

  it("knows the field of each of the server's problems", () => {
    expect(horizonFieldOf("horizons.2.bulk_density")).toEqual({ index: 2, field: "density" });
    expect(horizonFieldOf("horizons.0.points")).toEqual({ index: 0, field: "points" });
    expect(horizonFieldOf("name")).toBeNull();
  });

  it("shows percentages only where they are asked for, and what is wrong", () => {
    expect(draw("loam")).not.toContain("silt");
    expect(draw(BY_FRACTIONS)).toContain("they must add to 100 %");
    expect(draw("loam")).toContain("keep one");
    expect(draw("loam")).toContain("at 1500 kPa");
  });
});
