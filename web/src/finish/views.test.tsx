import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import type { UnitSystem } from "../units/format";
import { LastIrrigation } from "./LastIrrigation";
import type { Finish, Outcome } from "./queries";

const outcome: Outcome = {
  finished: false,
  need_mm: 95,
  usable_mm: 60,
  rain_mm: 5,
  planned_mm: 0,
  spare_mm: -30,
  more: [
    { net_mm: 15, gross_mm: 20, price: 80, first_on: "2026-08-10", last_on: "2026-08-12" },
    { net_mm: 15, gross_mm: 20, price: 80, first_on: "2026-08-14", last_on: "2026-08-19" },
  ],
  short: 0.8,
  short_mm: 12,
  short_loss: 0.031,
  short_after: 0.1,
  short_after_mm: 1,
  short_after_loss: 0.002,
};

const data: Finish = {
  status: "known",
  method: "all",
  chance: 0.9,
  ripe_on: "2026-08-28",
  days: 20,
  available_mm: 74,
  taw_mm: 120,
  reserve_mm: 0,
  outcome,
  if_later: outcome,
  if_earlier: { ...outcome, finished: true, more: [], spare_mm: 4 },
  table: { days: 19, use_mm: 95 },
  currency: "€",
  value: 10_000,
};

const said = (more: Partial<Finish>, units: UnitSystem = "metric") =>
  text(<LastIrrigation block={3} />, units, true, [
    [["farm", "f", "block", 3, "finish", "all", 0.9], { ...data, ...more }],
  ]);

describe("the last irrigation", () => {
  it("says how many are left, when the last one is due, and what is lost without", () => {
    const words = said({});
    expect(words).toContain(
      "2 more irrigations, 30 mm net in all. The last: 15 mm net (20 mm gross)",
    );
    expect(words).toContain("between 14 Aug 2026 and 19 Aug 2026");
    expect(words).toContain("at least (74 mm expected, full holds 120 mm) 60 mm");
    expect(words).toContain("Rain + 5 mm");
    expect(words).toContain("(20 days) − 95 mm Lacking = 30 mm");
    expect(words).toContain(
      "Without them, the crop runs short in 80 % of the years, by 12 mm on average",
    );
    expect(words).toContain("3.1 % of the yield, € 310");
    expect(words).toContain("If it is 3 days further on: no more irrigation");
    expect(words).toContain("19 days and 95 mm to maturity");
    expect(words).toContain("19 Aug 2026. It costs € 80 for water, power and labour.");
    expect(words).not.toContain("Planned irrigations");
    expect(said({}, "us")).toContain("1.18 in net in all");
  });
  it("says one, with its day, and leaves out what has no price and no table", () => {
    const one = {
      net_mm: 25,
      gross_mm: 30,
      price: null,
      first_on: "2026-08-14",
      last_on: "2026-08-14",
    };
    const words = said({ outcome: { ...outcome, more: [one] }, value: null, table: null });
    expect(words).not.toContain("It costs");
    expect(words).toContain("One more irrigation: 25 mm net (30 mm gross) on 14 Aug 2026");
    expect(words).toContain("3.1 % of the yield.");
    expect(words).not.toContain("€");
    expect(words).not.toContain("Tables by growth stage");
  });
  it("says that it is finished, and by how much", () => {
    const words = said({ outcome: { ...outcome, finished: true, more: [], spare_mm: 47 } });
    expect(words).toContain("Finished: no more irrigation is needed. 47 mm to spare at maturity");
  });
  it("counts what is planned", () => {
    const words = said({ outcome: { ...outcome, planned_mm: 12 } });
    expect(words).toContain("Planned irrigations + 12 mm");
  });
  it("says nothing of a crop without a finish, or far from it", () => {
    expect(said({ outcome: null, ripe_on: null, days: null, status: "no_finish" })).toBe("");
    expect(said({ days: 61 })).toBe("");
  });
  it("does not count what the weather decides", () => {
    const more = [...outcome.more, ...outcome.more];
    const words = said({ outcome: { ...outcome, more } });
    expect(words).toContain("Too early to say: 60 mm net are still to come");
    expect(words).not.toContain("The last:");
    expect(words).not.toContain("If it is 3 days");
  });
  it("says no loss where water is left in reserve", () => {
    expect(said({ outcome: { ...outcome, short_loss: null } })).not.toContain("of the yield");
  });
});
