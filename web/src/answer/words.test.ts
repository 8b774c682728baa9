import { describe, expect, it } from "vitest";
import { anAnswer } from "../testing/answers";
import { FarmTime } from "../time/farmTime";
import type { Answer } from "./types";
import { actionWords, stateWords } from "./words";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");

describe("a block in words", () => {
  it.each([
    [{}, "OK until Fri"],
    [{ state: "irrigate_soon" }, "Irrigate by Fri"],
    [{ state: "irrigate_now", start_at: null }, "Irrigate now"],
    [{ state: "irrigate_now", start_at: "2026-07-14T04:30:00Z" }, "Irrigate now"],
    [{ state: "irrigate_now", start_at: "2026-07-14T05:30:00Z" }, "Irrigate today"],
    [{ state: "irrigate_now", start_at: "2026-07-14T15:59:00Z" }, "Irrigate today"],
    [{ state: "irrigate_now", start_at: "2026-07-14T16:00:00Z" }, "Irrigate tonight"],
    [{ state: "irrigate_now", start_at: "2026-07-14T22:00:00Z" }, "Irrigate tonight"],
    [{ state: "irrigate_now", start_at: "2026-07-15T04:00:00Z" }, "Irrigate tomorrow"],
    [{ state: "below_refill", below_refill_hours: 64 }, "Below refill for 3 days"],
    [{ state: "below_refill", below_refill_hours: 168 }, "Below refill for a week or more"],
    [{ state: "above_full" }, "Above full"],
    [{ state: "no_reliable_data", last_reading_hours: -86 }, "No reliable data since Fri"],
    [{ state: "no_reliable_data", last_reading_hours: null }, "No reliable data"],
  ] as [Partial<Answer>, string][])("%o", (over, words) => {
    expect(stateWords(anAnswer(over), time)).toBe(words);
  });

  it("says when, how long and how much, in the person's units", () => {
    expect(actionWords(anAnswer({}), time, "metric")).toBe("Fri 16:00 · 11 h 24 · 27 mm");
    expect(actionWords(anAnswer({}), time, "us")).toBe("Fri 16:00 · 11 h 24 · 1.06 in");
    const far = anAnswer({ start_at: "2026-07-26T14:00:00Z" });
    expect(actionWords(far, time, "metric")).toBe("26 July · 11 h 24 · 27 mm");
    const late = anAnswer({ state: "below_refill", start_at: "2026-07-14T04:10:00Z" });
    expect(actionWords(late, time, "metric")).toBe("now · 11 h 24 · 27 mm");
  });

  it("tells why there is no reliable data", () => {
    const silent = { state: "no_reliable_data", start_at: null, amount: null } as const;
    expect(actionWords(anAnswer({ ...silent, reasons: ["no_instrument"] }), time, "metric")).toBe(
      "no instrument yet",
    );
    expect(
      actionWords(anAnswer({ ...silent, reasons: ["no_reliable_reading"] }), time, "metric"),
    ).toBe("check the instruments");
  });
});
