import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import { DeficitFacts } from "./DeficitFacts";
import type { DeficitSaid, LessWater } from "./queries";

const plan: LessWater = {
  stages: [
    { stage: "mid season", use_share: 0.7, allowed: null },
    { stage: "late season", use_share: null, allowed: 0.6 },
  ],
  since: null,
  application_mm: 10,
};
const said: DeficitSaid = {
  stage: "mid season",
  use_share: 0.7,
  allowed: null,
  next_stage: "late season",
  due_mm: 4.2,
  application_mm: 10,
  yield_share: 0.81,
};
const shown = (over: Partial<DeficitSaid> = {}) =>
  text(<DeficitFacts block={{ id: 3, name: "Q" }} said={{ ...said, ...over }} />, "metric", true, [
    [["farm", "f", "block", 3, "less-water"], { plan }],
  ]);

describe("a plan of less water", () => {
  it("says what each stage gets, what is due and what it leaves of the yield", () => {
    const words = shown();
    expect(words).toContain("mid season 70 % of ETc");
    expect(words).toContain("refilled when 60 % of the available water is used");
    expect(words).toContain("Due now 4.2 mm of 10.0 mm");
    expect(words).toContain("Yield expected 81 % of full yield");
  });

  it("says where the yield is not known", () => {
    expect(shown({ yield_share: null, due_mm: null })).toContain("not known: no Ky");
  });
});
