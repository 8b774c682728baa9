import { describe, expect, it } from "vitest";
import { FarmTime } from "../time/farmTime";
import type { Answer } from "./types";
import { actionWords, stateWords } from "./words";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");

function answer(over: Partial<Answer>): Answer {
  return {
    state: "holding",
    reasons: [],
    confidence: "good",
    stage: "mid season",
    usable_mm: 20,
    deficit_mm: 10,
    surplus_mm: 0,
    sigma_mm: 3,
    used_share: 0.2,
    days_left: { dry: 2, expected: 3, wet: 4 },
    refill_at: "2026-07-17T16:00:00Z",
    start_at: "2026-07-17T14:00:00Z",
    earliest_at: null,
    taken_chance: 0.2,
    rain_chance: null,
    wait_mm: null,
    drained_mm: 0,
    past_refill_hours: null,
    last_word_hours: -0.2,
    amount: { net_mm: 20, gross_mm: 27, volume_m3: 1697, hours: 11.4 },
    ...over,
  };
}

describe("a block in words", () => {
  it.each([
    [{}, "Holding to Fri"],
    [{ state: "water_soon" }, "Water by Fri"],
    [{ state: "water_now" }, "Water now"],
    [{ state: "past_refill", past_refill_hours: 64 }, "Past refill 3 d"],
    [{ state: "past_refill", past_refill_hours: 168 }, "Past refill a week"],
    [{ state: "brimming" }, "Brimming"],
    [{ state: "no_word", last_word_hours: -86 }, "No word since Fri"],
    [{ state: "no_word", last_word_hours: null }, "No word"],
  ] as [Partial<Answer>, string][])("%o", (over, words) => {
    expect(stateWords(answer(over), time)).toBe(words);
  });

  it("says when, how long and how much, in the person's units", () => {
    expect(actionWords(answer({}), time, "metric")).toBe("Fri 16:00 · 11 h 24 · 27 mm");
    expect(actionWords(answer({}), time, "us")).toBe("Fri 16:00 · 11 h 24 · 1.06 in");
    const far = answer({ start_at: "2026-07-26T14:00:00Z" });
    expect(actionWords(far, time, "metric")).toBe("26 July · 11 h 24 · 27 mm");
    const late = answer({ state: "past_refill", start_at: "2026-07-14T04:10:00Z" });
    expect(actionWords(late, time, "metric")).toBe("now · 11 h 24 · 27 mm");
  });

  it("tells why there is no word", () => {
    const silent = { state: "no_word", start_at: null, amount: null } as const;
    expect(actionWords(answer({ ...silent, reasons: ["no_instrument"] }), time, "metric")).toBe(
      "no instrument yet",
    );
    expect(
      actionWords(answer({ ...silent, reasons: ["no_trusted_reading"] }), time, "metric"),
    ).toBe("go and look");
  });
});
