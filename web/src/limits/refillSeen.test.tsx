import { describe, expect, it } from "vitest";
import { shown, text } from "../testing/shown";
import { applicationWords, figuresToAdopt } from "./ApplicationSeen";
import type {
  ApplicationSeenData,
  HorizonFull,
  RefillSeenData,
  SiteRefill,
  UseSeenData,
} from "./queries";
import { lastSeasonWords } from "./FullPointsSeen";
import { refillWords, siteWords } from "./RefillSeen";
import { seenUseWords } from "./UseSeen";
import { UptakePlot } from "./UptakePlot";

const site: SiteRefill = {
  instrument: "Probe A1",
  days: [
    { on: "2026-06-01", gone: 0.2, share: 1.02 },
    { on: "2026-06-02", gone: 0.725, share: 0.4 },
  ],
  break_gone: 0.52,
  break_spread: 0.04,
  level: 1,
  slope: -3,
  why_not: null,
};

const seen: RefillSeenData = {
  raw_mm: 30,
  taw_mm: 60,
  depletion_mm: 33.4,
  low_mm: 25,
  high_mm: 41.8,
  share: 0.56,
  use: null,
  sites: [site],
};

describe("the refill point that was seen", () => {
  it("says where the use breaks and how far the evidence reaches", () => {
    expect(siteWords(site)).toBe(
      "Over 2 dry days use falls once 52 % (± 4) of the available water is gone; the driest had 73 % gone.",
    );
    expect(refillWords(seen, "metric")).toContain("33.4 mm (25.0–41.8)");
    expect(refillWords(seen, "metric")).toContain("in force is 30.0 mm");
    expect(refillWords(seen, "us")).toContain("1.31");
    expect(refillWords({ ...seen, depletion_mm: null }, "metric")).toBe("");
  });

  it("says why there is none", () => {
    expect(siteWords({ ...site, why_not: "few days" })).toContain("2 dry days on which");
    expect(siteWords({ ...site, days: [], why_not: "few days" })).toContain("no dry day on which");
    expect(siteWords({ ...site, why_not: "never dry" })).toContain("never drier than 73 % gone");
    expect(siteWords({ ...site, why_not: "no fall" })).toContain("no break can be told");
  });

  it("draws each day and the line that breaks, beside the refill in force", () => {
    const plot = shown(<UptakePlot site={site} width={400} inForce={0.5} />);
    expect(plot.match(/<circle/g)).toHaveLength(2);
    expect(plot.match(/<polyline/g)).toHaveLength(1);
    expect(text(plot)).toContain("refill in force");
    expect(text(plot)).toContain("40 % of the stated use, 73 % of the available water gone");
    const none = shown(
      <UptakePlot
        site={{ ...site, break_gone: null, level: null, slope: null }}
        width={400}
        inForce={0.5}
      />,
    );
    expect(none).not.toContain("<polyline");
  });
});

describe("the use that was seen", () => {
  const use: UseSeenData = { days: 23, share: 1.12, low: 1.03, high: 1.21, fit: "differs" };
  it("says how many days tell it, and what else may be the cause", () => {
    expect(seenUseWords(use)).toBe(
      "On 23 dry days of mid season with enough water the crop took 112 % (103–121) of Kc · ET.",
    );
    expect(seenUseWords({ ...use, fit: "fits" })).toContain("The Kc in use fits");
    expect(seenUseWords({ ...use, fit: "not the crop" })).toContain("check the wetted share");
  });
});

describe("the water that was found", () => {
  const found: ApplicationSeenData = {
    irrigations: 9,
    sites: 1,
    share: 0.62,
    low: 0.48,
    high: 0.76,
    fit: "differs",
    cause: null,
    rate_mm_h: 4.5,
    flow_m3_h: null,
    rate_mm_h_seen: 2.79,
    flow_m3_h_seen: null,
    efficiency: 0.78,
    efficiency_seen: 0.484,
  };
  it("says of how many irrigations, and how it goes with the record", () => {
    expect(applicationWords(found)).toBe(
      "Of the water of 9 irrigations on record, net of losses, 62 % (48–76) reached the soil around the sensors.",
    );
    expect(applicationWords({ ...found, fit: "fits" })).toContain("Rate and efficiency fit.");
    const fading = { ...found, fit: "other cause", cause: "Soil answers less and less" } as const;
    expect(applicationWords(fading)).toContain("“Soil answers less and less”");
  });

  it("offers what can be adopted, in the reader's units", () => {
    expect(figuresToAdopt(found, "metric").map((f) => [f.value, f.words])).toEqual([
      ["rate", "application rate: 4.50 mm/h to 2.79 mm/h"],
      ["efficiency", "efficiency: 78 to 48 %"],
    ]);
    const byFlow = {
      ...found,
      rate_mm_h: null,
      rate_mm_h_seen: null,
      flow_m3_h: 80,
      flow_m3_h_seen: 49.6,
    };
    expect(figuresToAdopt(byFlow, "metric")[0]?.words).toContain("m³/h");
    expect(figuresToAdopt(byFlow, "us")[0]?.words).not.toContain("m³/h");
    const byDesign = { ...found, rate_mm_h_seen: null, efficiency_seen: null };
    expect(figuresToAdopt(byDesign, "metric")).toEqual([]);
  });
});

describe("the full point of former seasons", () => {
  const horizon: HorizonFull = {
    index: 0,
    top_mm: 0,
    bottom_mm: 400,
    in_use: 0.28,
    wilt: 0.13,
    seen: 0.3,
    low: 0.29,
    high: 0.31,
    sensors: 2,
    events: 4,
    last_season: 0.295,
    can_be_adopted: true,
  };
  it("stands beside this one's, and says whether it has moved", () => {
    expect(lastSeasonWords(horizon, "metric")).toBe("before this season 0.295");
    expect(lastSeasonWords({ ...horizon, last_season: 0.26 }, "metric")).toContain("has changed");
    expect(lastSeasonWords({ ...horizon, last_season: null }, "metric")).toBe("");
  });
});
