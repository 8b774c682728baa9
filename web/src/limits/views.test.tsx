import { describe, expect, it } from "vitest";
import { shown, text, type Known } from "../testing/shown";
import { Changes } from "./Changes";
import { FieldShownTable, methodsWords } from "./FieldShown";
import { LayerLimits } from "./LayerLimits";
import type { BlockLimits, Change, Learned } from "./queries";
import { RefillFields } from "./RefillFields";
import { RefillMethodTable } from "./RefillMethodTable";
import { SeasonCurve } from "./SeasonCurve";

const change: Change = {
  id: 3,
  kind: "refill",
  from_on: "2026-06-08",
  soil: "",
  refill_method: "tension",
  value: 45,
  stage: "mid season",
  reason: "sand below",
  made_by: "Ann",
  made_at: "2026-06-08T07:00:00Z",
  undone_by: "",
  undone_at: null,
};

const limits: BlockLimits = {
  block_id: 4,
  name: "Tarn Breck",
  on: "2026-07-14",
  today: "2026-07-14",
  crop: "Carrot",
  crop_key: "carrot",
  crop_tension_kpa: 60,
  stage: "mid season",
  root_mm: 500,
  kc: 1.05,
  et0_mm_day: 6.2,
  et_source: "stated",
  etc_mm_day: 6.5,
  full_mm: 77.7,
  wilt_mm: 29.9,
  taw_mm: 47.8,
  taw_sigma_mm: 20.5,
  refill_mm: 66.9,
  raw_mm: 10.8,
  wetted_share: 1,
  wetted_source: "",
  soil: "Breck sandy loam",
  soil_id: 8,
  ece: null,
  relative_yield: null,
  water_ecw: null,
  leaching: null,
  layers: [
    {
      top_mm: 0,
      bottom_mm: 350,
      texture: "sandy loam",
      source: "Saxton & Rawls 2006",
      theta_full: 0.166,
      theta_refill: 0.156,
      theta_wilt: 0.073,
      full_kpa: 33,
      refill_kpa: 45,
      full_mm: 58.2,
      refill_mm: 54.4,
      wilt_mm: 25.4,
      available_mm: 32.8,
      available_sigma_mm: 18.8,
    },
  ],
  refill_methods: [
    {
      refill_method: "crop_p",
      in_force: false,
      value: 0.35,
      p: 0.29,
      raw_mm: 13.8,
      refill_mm: 63.8,
      kpa: 75,
      source: "FAO-56 table 22, from memory",
    },
    {
      refill_method: "tension",
      in_force: true,
      value: 45,
      p: 0.226,
      raw_mm: 10.8,
      refill_mm: 66.9,
      kpa: 45,
      source: "set for the block",
    },
  ],
  windows: [{ name: "flowering", ky: 1.1, first: "2026-07-12", last: "2026-07-13" }],
  curve: {
    first: "2026-07-12",
    full_mm: [70, 74, 77.7],
    wilt_mm: [27, 28, 29.9],
    root_mm: [450, 480, 500],
    kc: [1, 1.02, 1.05],
    stage: ["development", "development", "mid season"],
    in_force: ["tension", "tension", "tension"],
    refill_mm: [60, 63, 66.9],
    crop_p_mm: [58, 60, 63.8],
    flat_mm: [49, 51, 53.8],
    tension_mm: [60, 63, 66.9],
  },
  changes: [change],
  why_not: "",
};

describe("three methods", () => {
  it("stand side by side, the one in force said in words", () => {
    const said = text(<RefillMethodTable limits={limits} />);
    expect(said).toContain("crop's p FAO-56 table 22, from memory 35 % 29 %, 13.8 63.8 75");
    expect(said).toContain("tension limit · in force set for the block 45 kPa 23 %, 10.8 66.9 45");
  });

  it("say nothing where nobody gives a figure", () => {
    const none = {
      ...limits.refill_methods[1]!,
      value: null,
      p: null,
      raw_mm: null,
      refill_mm: null,
    };
    const said = text(
      <RefillMethodTable limits={{ ...limits, refill_methods: [{ ...none, kpa: null }] }} />,
    );
    expect(said).toContain("none published for this crop – – – –");
    expect(said).not.toContain("0.0");
  });
});

describe("layers", () => {
  it("give water, content, tension and percent", () => {
    const said = text(<LayerLimits limits={limits} />);
    expect(said).toContain("0–35 sandy loam Saxton &amp; Rawls 2006; holds 32.8 ± 18.8");
    expect(said).toContain("58.2 0.166 · 33 kPa 54.4 0.156 · 45 kPa 25.4 0.073 · 1,500 kPa 89 %");
    expect(said).toContain("TAW 47.8 ± 20.5 77.7 66.9 29.9 77 %");
    expect(said).toContain("Salt: not known; ECe is not measured");
  });

  it("turn into inches and centibar", () => {
    const said = text(<LayerLimits limits={limits} />, "us");
    expect(said).toContain("2.29 0.166 · 33 cbar");
  });

  it("say what the salt leaves and what leaching it needs", () => {
    const enough = { share: 0.176, ece_ds_m: 1.2, yield_left: 0.9, falls_short: false };
    const salty = { ...limits, ece: 1.9, relative_yield: 0.888, water_ecw: 0.9, leaching: enough };
    const said = text(<LayerLimits limits={salty} />);
    expect(said).toContain("ECe 1.9 dS/m in the roots leaves 89 % of the yield");
    expect(said).toContain("ECw 0.9 dS/m: 18 % of it should drain below the roots. ECe then");
    expect(said).toContain("stays near 1.2 dS/m, which leaves 90 % of the yield (FAO-29).");
    const short = { share: 0.3, ece_ds_m: 2.5, yield_left: 0.79, falls_short: true };
    const saltier = text(<LayerLimits limits={{ ...salty, leaching: short }} />);
    expect(saltier).toContain(
      "30 % of it should drain below the roots, the most that is practical",
    );
    expect(saltier).toContain("leaves 79 % of the yield (FAO-29). More leaching would be needed");
  });
});

const CLOCK: Known = [[["farm", "f", "clock"], { now: "2026-07-14T04:10:00Z", time_zone: "CET" }]];
const recorded = (of: BlockLimits) => text(<Changes limits={of} />, "metric", true, CLOCK);

describe("the record of changes", () => {
  it("says what, from when, by whom and why", () => {
    const said = recorded(limits);
    expect(said).toContain("8 Jun 2026 refill by tension limit, 45 kPa, in mid season");
    expect(said).toContain("sand below · Ann, 8 Jun 2026");
    expect(shown(<Changes limits={limits} />)).toContain('aria-label="Undo refill by tension');
  });

  it("keeps what was undone, and offers no second undoing", () => {
    const undone = { ...change, undone_at: "2026-07-01T07:00:00Z", undone_by: "Maud" };
    const said = recorded({ ...limits, changes: [undone] });
    expect(said).toContain("undone by Maud, 1 Jul 2026");
    expect(said).not.toContain("aria-label=");
  });

  it("lets who may not change only read", () => {
    expect(shown(<Changes limits={limits} />, "metric", false)).not.toContain("Undo");
  });

  it("names a soil, and a change that always held", () => {
    const soil = { ...change, kind: "soil" as const, soil: "Marl clay", from_on: null, reason: "" };
    const said = text(<Changes limits={{ ...limits, changes: [soil] }} />);
    expect(said).toContain("always soil: Marl clay no reason given · Ann");
  });
});

const draw = (changes: Partial<BlockLimits>) =>
  text(
    <SeasonCurve
      limits={{ ...limits, ...changes }}
      width={600}
      units="metric"
      choose={() => undefined}
    />,
  );

describe("the curve", () => {
  it("reads out the day that is shown", () => {
    const said = text(
      <SeasonCurve limits={limits} width={600} units="metric" choose={() => undefined} />,
    );
    expect(said).toContain(
      "14 Jul : full 77.7, refill 66.9, wilting 29.9 mm; roots 50 cm, Kc 1.05, mid season",
    );
    expect(said).toContain("flowering, Ky 1.10");
    expect(said).toContain("refill by fixed share");
  });

  it("draws nothing without a season, and no day outside it", () => {
    expect(draw({ curve: null })).toBe("");
    expect(draw({ on: "2027-01-01" })).not.toContain("full 77.7");
  });

  it("is a slider that says its day", () => {
    const said = shown(
      <SeasonCurve limits={limits} width={600} units="metric" choose={() => undefined} />,
    );
    expect(said).toContain('role="slider"');
    expect(said).toContain('aria-valuetext="14 Jul 2026"');
  });
});

describe("setting a rule", () => {
  const form = { refill_method: "tension" as const, value: "", stage: "", from: "", reason: "" };
  it("asks in the method's own unit and says what empty means", () => {
    const said = text(
      <RefillFields form={form} change={() => undefined} problems={{}} own={() => "60 kPa"} />,
    );
    expect(said).toContain("At most");
    expect(said).toContain("empty: 60 kPa");
    const share = text(
      <RefillFields
        form={{ ...form, refill_method: "flat" }}
        change={() => undefined}
        problems={{ value: "0.95 lies outside 0.1-0.8" }}
        own={() => "half"}
      />,
    );
    expect(share).toContain("Allowable depletion (p)");
    expect(share).toContain("0.95 lies outside 0.1-0.8");
  });
});

const learned: Learned = {
  on: "2026-07-13",
  book_taw_mm: 78.3,
  book_raw_mm: 26.1,
  taw_mm: 70.2,
  taw_sigma_mm: 9.4,
  raw_mm: 40.1,
  raw_sigma_mm: 12.2,
  by_crop: true,
  use: 0.94,
  use_sigma: 0.06,
  arrives: 1.02,
  arrives_sigma: 0.08,
  p_share: 0.35,
  tension_share: 0.12,
  tension_kpa: 25,
  methods_differ: true,
  levels: [
    {
      site: "Probe A1",
      depth_mm: 200,
      book: 0.281,
      estimated: 0.312,
      sigma: 0.009,
      drained: { events: 5, theta: 0.309, low: 0.295, high: 0.323 },
    },
    {
      site: "Probe A1",
      depth_mm: 400,
      book: 0.275,
      estimated: 0.3,
      sigma: 0.02,
      drained: null,
    },
  ],
};

describe("what the field has shown", () => {
  it("stands beside the book, with its spread", () => {
    const said = text(shown(<FieldShownTable learned={learned} />));
    expect(said).toContain("78.3");
    expect(said).toContain("70.2 ± 9.4");
    expect(said).toContain("40.1 ± 12.2");
    expect(said).toContain("94 ± 6");
    expect(said).toContain("Probe A1, 20 cm: reading at full");
    expect(said).toContain("0.312 ± 0.009");
    expect(said).toContain("Drained to 0.309 (0.295–0.323) after 5 wetting events");
    expect(said.match(/Drained to/g)).toHaveLength(1);
  });

  it("says where two methods can't both be right, and which way they differ", () => {
    expect(methodsWords(learned)).toContain("25 kPa is reached when 12 %");
    expect(methodsWords(learned)).toContain("by tension irrigates sooner");
    expect(methodsWords({ ...learned, tension_share: 0 })).toContain("before any of the available");
    expect(methodsWords({ ...learned, tension_share: 0.9 })).toContain("irrigates later");
    expect(methodsWords({ ...learned, by_crop: false })).toContain("stays in force");
    expect(methodsWords({ ...learned, methods_differ: false })).toBe("");
    expect(methodsWords({ ...learned, tension_share: null })).toBe("");
  });
});
