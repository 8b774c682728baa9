import { describe, expect, it } from "vitest";
import { stateWords } from "../answer/words";
import { anAnswer } from "../testing/answers";
import { text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import type { UnitSystem } from "../units/format";
import { FieldFacts } from "./FieldFacts";
import type { Paddy, Ponded, RiceSeason } from "./queries";
import { SameSupply } from "./SameSupply";
import { SeasonWater } from "./SeasonWater";
import { levelFigure, levelWords } from "./words";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const ponded: Ponded = {
  phase: "wetting_and_drying",
  level: { low: -70, middle: -52, high: -33 },
  lower_mm: -150,
  upper_mm: 50,
  threshold_mm: -150,
  cycles: 4,
  deeper_mm: -200,
  not_deeper: null,
  flowering_on: "2026-09-09",
  drain_on: "2026-09-27",
  harvest_on: "2026-10-09",
  percolation_mm_day: { low: 1.6, middle: 2.1, high: 2.8 },
  seepage_mm_day: { low: 0.3, middle: 0.6, high: 1.2 },
  porosity: { low: 0.12, middle: 0.147, high: 0.17 },
  loss_mm_day: 8.7,
  falls: 88,
  nitrogen_on: null,
};
const paddy: Paddy = {
  bund_mm: 180,
  started: "transplanted",
  threshold_mm: -150,
  threshold_since: null,
  refill_to_mm: 50,
  keep_ponded_until: null,
  drying_from: null,
  percolation_mm_day: null,
  porosity: null,
  nitrogen: ["2026-07-16"],
  nitrogen_done: ["2026-06-08"],
};
const block = { id: 3, name: "Reed Carr" };
const KEY = ["farm", "f", "block", 3, "paddy"];

const facts = (over: Partial<Ponded> = {}, units: UnitSystem = "metric") =>
  text(<FieldFacts block={block} ponded={{ ...ponded, ...over }} />, units, true, [
    [KEY, { paddy }],
  ]);

describe("levels of a rice field", () => {
  it("are said as people say them", () => {
    expect(levelWords(50, "metric")).toBe("5 cm ponded");
    expect(levelWords(-150, "metric")).toBe("15 cm below the surface");
    expect(levelWords(-3, "metric")).toBe("at the surface");
    expect(levelFigure(-150, "metric")).toBe("−15 cm");
    expect(levelFigure(50, "us")).toBe("+2.0 in");
  });
});

describe("what a rice field is at", () => {
  it("has its phase, levels, dates and what was learned with its range", () => {
    const words = facts();
    expect(words).toContain("Phase wetting and drying");
    expect(words).toContain("Flooded again at 15 cm below the surface");
    expect(words).toContain("Flooded to 5 cm ponded");
    expect(words).toContain("Flowering about 9 Sept 2026");
    expect(words).toContain("2.1 (1.6–2.8) mm/day");
    expect(words).toContain("15 (12–17) %");
    expect(words).toContain("learned from 88 falls");
  });
  it("offers the next threshold, or says why not", () => {
    expect(facts()).toContain("Allow drying to 20 cm below the surface");
    const few = facts({ not_deeper: "few_cycles", cycles: 1 });
    expect(few).toContain("1 drying has reached it");
    expect(few).toContain("The next step is offered after two.");
    expect(few).not.toContain("Allow drying");
    expect(facts({ threshold_mm: -200 })).toContain("Go back to 15 cm below the surface");
  });
  it("tells of nitrogen done and planned", () => {
    const words = facts();
    expect(words).toContain("Applied on 8 Jun 2026");
    expect(words).toContain("Planned for 16 Jul 2026: onto dry soil");
  });
  it("says that figures are usual ones until the tubes have shown others", () => {
    expect(facts({ falls: 0 })).toContain("usual figures until the tubes have shown");
  });
});

const season: RiceSeason = {
  first: "2026-05-12",
  last: "2026-07-14",
  given_mm: 514,
  given_m3: 28_776,
  rain_mm: 68,
  use_mm: 346,
  continuous_mm: 642,
  saved: { low: 0.12, middle: 0.2, high: 0.3 },
  saved_m3: 7171,
  dryings: [{ began_on: "2026-06-07", ended_on: null, deepest_mm: -147 }],
  unread_days: 10,
};
const told = (over: Partial<RiceSeason> = {}) =>
  text(<SeasonWater block={3} />, "metric", true, [
    [[...KEY, "season"], { season: { ...season, ...over } }],
  ]);

describe("the season's water", () => {
  it("says what was saved, with its range, and each drying", () => {
    const words = told();
    expect(words).toContain("514 mm let in");
    expect(words).toContain("20 % saved (12 to 30 %) against keeping it ponded.");
    expect(words).toContain("would have taken 642 mm");
    expect(words).toContain("On 10 days no tube was read.");
    expect(words).toContain("7 Jun 2026 still drying 15 cm below the surface");
  });
  it("says where more was used", () => {
    const words = told({ saved: { low: -0.2, middle: -0.1, high: 0.05 } });
    expect(words).toContain("10 % more used (−5 to 20 %)");
  });
});

describe("fields on one supply", () => {
  const field = {
    block_id: 3,
    block: "Reed Carr",
    area_ha: 5.6,
    phase: "wetting_and_drying" as const,
    level_mm: -52,
    start_at: "2026-07-15T05:00:00Z",
    hours: 16,
    volume_m3: 4176,
  };
  const beside = (fields: (typeof field)[]) =>
    text(<SameSupply block={3} time={time} />, "metric", true, [
      [["farm", "f", "rice-fields"], [{ supply: "Carr sluice", fields }]],
    ]);
  it("stand side by side", () => {
    const words = beside([field, { ...field, block_id: 4, block: "Osier Carr", level_mm: 30 }]);
    expect(words).toContain("Rice fields on Carr sluice");
    expect(words).toContain("Osier Carr 3 cm ponded tomorrow 07:00 16 h · 4,176 m³");
  });
  it("one alone is not told of", () => {
    expect(beside([field])).toBe("");
  });
});

const said = (over: Parameters<typeof anAnswer>[0]) =>
  stateWords(anAnswer({ regime: "ponded", ponded, ...over }), time);

describe("the state of a rice field", () => {
  it("speaks of flooding", () => {
    expect(said({ state: "irrigate_soon", start_at: "2026-07-16T05:00:00Z" })).toBe("Flood by Thu");
    expect(said({ state: "irrigate_now", start_at: "2026-07-14T04:10:00Z" })).toBe("Flood now");
    expect(said({ state: "irrigate_now", start_at: "2026-07-14T18:00:00Z" })).toBe("Flood tonight");
    expect(said({ state: "below_refill" })).toBe("Below the threshold");
    expect(said({ state: "below_refill", ponded: { ...ponded, lower_mm: 62 } })).toBe(
      "Too shallow",
    );
    expect(said({ state: "finished" })).toBe("No more irrigation needed");
  });
});
