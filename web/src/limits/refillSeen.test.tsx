import { describe, expect, it } from "vitest";
import { shown, text } from "../testing/shown";
import type { HorizonFull, RefillSeenData, SiteRefill, UseSeenData } from "./queries";
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
