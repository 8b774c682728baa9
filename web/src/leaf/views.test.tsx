import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import type { UnitSystem } from "../units/format";
import { LeafFacts } from "./LeafFacts";
import type { LeafData, LeafSaid } from "./queries";

const band = (phase: "to_veraison" | "to_harvest", upper: number, lower: number) => ({
  phase,
  upper_mpa: upper,
  lower_mpa: lower,
  product_upper_mpa: upper,
  product_lower_mpa: lower,
});
const leaf: LeafData = {
  steering: {
    product: "red_wine",
    strategy: "band",
    bands: [band("to_veraison", -0.9, -1.2), band("to_harvest", -1, -1.3)],
    zones: [],
    use_share: null,
    since: null,
    application_mm: null,
    side: null,
    side_since: null,
    side_days: null,
  },
  products: [],
  rounds: [],
  next_round: null,
};
const said: LeafSaid = {
  strategy: "band",
  phase: "to_veraison",
  band_upper: -0.9,
  band_lower: -1.2,
  next_phase: "to_harvest",
  next_on: "2026-08-06",
  now: { low: -1.05, middle: -0.98, high: -0.9 },
  rounds: 5,
  lower_share: 0.82,
  upper_share: 0.6,
  latest_mpa: -0.95,
  latest_hours: -48,
  apart_spreads: -0.3,
  leaves_wanted: 12,
  round_on: "2026-07-15",
  side: null,
  side_until: null,
};
const block = { id: 3, name: "Wick Terrace" };

const facts = (over: Partial<LeafSaid> = {}, units: UnitSystem = "metric", data = leaf) =>
  text(<LeafFacts block={block} said={{ ...said, ...over }} />, units, true, [
    [["farm", "f", "block", 3, "leaf", ""], data],
  ]);

describe("what a block is steered by", () => {
  it("has its band, the next one, the leaf today and the newest round", () => {
    const words = facts();
    expect(words).toContain("to véraison -0.90 to -1.20 MPa");
    expect(words).toContain("to harvest, from 6 Aug 2026 -1.00 to -1.30 MPa");
    expect(words).toContain("Leaf today at noon -0.98 (-1.05 to -0.90) MPa");
    expect(words).toContain("60 to 82 % of the available water used");
    expect(words).toContain("Leaf and soil related by 5 rounds. Leaf and soil agree.");
  });

  it("is in bar for who works in US units", () => {
    expect(facts({}, "us")).toContain("to véraison -9.0 to -12.0 bar");
  });

  it("says what it means when leaf and soil contradict each other", () => {
    expect(facts({ apart_spreads: -2.4 })).toContain("The leaves are drier than the soil");
    expect(facts({ apart_spreads: 2.4 })).toContain("The leaves are wetter than the soil");
    expect(facts({ apart_spreads: null })).toContain("compared from the fourth round on");
  });

  it("tells the share of ETc and the side where those rule", () => {
    const share = {
      ...leaf,
      steering: { ...leaf.steering!, strategy: "share" as const, use_share: 0.6 },
    };
    const words = facts(
      { strategy: "share", side: "b", side_until: "2026-07-20" },
      "metric",
      share,
    );
    expect(words).toContain("Strategy 60 % of ETc");
    expect(words).toContain("side B, until 20 Jul 2026");
  });
});
