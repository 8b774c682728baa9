import { describe, expect, test } from "vitest";
import { text, type Known } from "../testing/shown";
import { SeasonWater } from "./SeasonWater";

const SOURCE = {
  name: "North bore",
  begin_by: { on: "2026-07-19", kept: 0.85, beyond: false, never: [] as number[] },
  licence: {
    left_m3: 98_000,
    need_m3: { low: 71_000, middle: 84_000, high: 95_500 },
    unused_m3: { low: 2_500, middle: 14_000, high: 27_000 },
    worth_1000_m3: 0,
    shares: [{ block_id: 1, need_mm: 212.5, given_mm: 245, lacking_mm: 0, worth_10_mm: 410 }],
  },
};

const season = (sources: object[], years = 40) =>
  said({ format: 1, years, from_on: "2026-07-14", sources });
const said = (found: object | null) => {
  const data = {
    made_at: null,
    currency: "€",
    blocks: [
      { id: 1, name: "Long Tye" },
      { id: 4, name: "Marl Pit" },
    ],
    season: found,
  };
  const known: Known = [[["farm", "f", "season-water"], data]];
  return text(<SeasonWater />, "metric", true, known);
};

describe("the rest of the season", () => {
  test("by when to begin, what is left and how it is shared", () => {
    const shown = season([SOURCE]);
    expect(shown).toContain("Begin by 19 Jul 2026 at the latest: all blocks are then kept");
    expect(shown).toContain("85 % of the years");
    expect(shown).toContain("Licence left 98,000 m³; needed 84,000 m³ (71,000 to 95,500)");
    expect(shown).toContain("There is enough.");
    expect(shown).toContain("Long Tye 212.5 mm 245.0 mm 0.0 mm 410 €");
  });

  test("too late, and which blocks can't be kept at all", () => {
    const begin_by = { on: null, kept: 0.35, beyond: false, never: [4] };
    const shown = season([{ ...SOURCE, begin_by, licence: null }]);
    expect(shown).toContain("all are kept in 35 % of the years only");
    expect(shown).toContain("Can't be kept, though it begins at once: Marl Pit.");
  });

  test("no hurry, and what more water would be worth", () => {
    const shown = season([
      {
        ...SOURCE,
        begin_by: { on: "2026-09-10", kept: 1, beyond: true, never: [] },
        licence: { ...SOURCE.licence, worth_1000_m3: 320 },
      },
    ]);
    expect(shown).toContain("Nothing has to begin before 10 Sept 2026.");
    expect(shown).toContain("Another 1,000 m³ would be worth 320 €.");
  });

  test("why nothing is said", () => {
    expect(said(null)).toContain("Plan the run sheet");
    expect(season([], 0)).toContain("Too little weather is on record");
    expect(season([])).toContain("No source has a limit");
  });
});
