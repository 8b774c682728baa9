import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import { CutFacts } from "./CutFacts";
import type { CutPlan, Harvests } from "./queries";

const plan: CutPlan = {
  harvested: "cut",
  planned: ["2026-07-15"],
  every_days: 28,
  last_on: null,
  dry_before_days: 4,
  taken_days: null,
  rotation: "",
  place: 1,
};
const ahead: Harvests = {
  harvested: "cut",
  ahead: [
    {
      on: "2026-07-15",
      dry_from: "2026-07-11",
      water_from: "2026-07-20",
      water_from_early: "2026-07-18",
    },
  ],
};
const block = { id: 3, name: "Sallow Bank" };
const shown = (over: Partial<CutPlan> = {}, said: Harvests | null = ahead) =>
  text(<CutFacts block={block} said={said} />, "metric", true, [
    [["farm", "f", "block", 3, "cut-plan"], { plan: { ...plan, ...over } }],
  ]);

describe("the cuts ahead", () => {
  it("say from when to when there is no water", () => {
    const words = shown();
    expect(words).toContain("Every 28 days of growth.");
    expect(words).toContain("11 Jul 2026 15 Jul 2026 18 Jul 2026 to 20 Jul 2026");
  });

  it("of paddocks say their place in the rotation", () => {
    const words = shown(
      { harvested: "grazed", rotation: "Carr round", place: 2 },
      { harvested: "grazed", ahead: [{ ...ahead.ahead[0]!, water_from_early: "2026-07-20" }] },
    );
    expect(words).toContain("Grazings ahead");
    expect(words).toContain("Paddock 2 of Carr round.");
    expect(words).toContain("Stock comes");
  });

  it("say so when there is none", () => {
    expect(shown({ every_days: null }, { harvested: "cut", ahead: [] })).toContain(
      "On settled dates. None within the next 30 days.",
    );
  });
});
