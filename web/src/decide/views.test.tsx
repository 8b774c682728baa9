import { describe, expect, it } from "vitest";
import { decisionWords } from "./words";
import { Deciding } from "./Deciding";
import type { Decision } from "./queries";
import { anAnswer, aRow } from "../testing/answers";
import { text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { heldWords, runWords } from "../block/Answer";
import { plannedWords } from "../answer/words";
import { isDue } from "../board/LineActions";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const decision: Decision = {
  id: 1,
  kind: "declined",
  why: "no_hands",
  reason: "two men short",
  made_at: "2026-07-14T04:20:00Z",
  made_by: "Maud",
  set_id: null,
};

describe("a decision in words", () => {
  it("says who, what and why", () => {
    expect(decisionWords(decision)).toBe("Skipped, Maud: no labour available, two men short");
    expect(decisionWords({ ...decision, kind: "accepted", why: null, reason: "" })).toBe(
      "Scheduled, Maud",
    );
    expect(decisionWords({ ...decision, made_by: null, why: null, reason: "" })).toBe("Skipped");
  });

  it("stands where the buttons stood, with the way back for who may", () => {
    const block = { ...aRow(), decision };
    expect(text(<Deciding block={block} time={time} />)).toContain("Undo");
    expect(text(<Deciding block={block} time={time} />, "metric", false)).toBe(
      "Skipped, Maud: no labour available, two men short.",
    );
    expect(text(<Deciding block={aRow()} time={time} />)).toBe("Schedule Adjust… Skip…");
    expect(text(<Deciding block={aRow()} time={time} />, "metric", false)).toBe("");
    const calm = aRow({ answer: anAnswer({ start_at: null, amount: null }) });
    expect(text(<Deciding block={calm} time={time} />)).toBe("Adjust…");
  });
});

describe("what is due", () => {
  it.each([
    [aRow({ answer: anAnswer({ state: "irrigate_now" }) }), true],
    [aRow({ answer: anAnswer({ state: "ok" }) }), false],
    [aRow({ answer: anAnswer({ state: "irrigate_now" }), decision }), false],
    [aRow({ answer: anAnswer({ state: "below_refill", amount: null }) }), false],
  ])("%#", (row, due) => {
    expect(isDue(row)).toBe(due);
  });
});

describe("how it is given", () => {
  const run = { turns: 1, turn_hours: 22, speed_percent: null, sets: 1, pulses: 1 };
  const rest = { on_hours: null, pause_hours: null, total_hours: 22 };
  it.each([
    [{ speed_percent: 50 }, "One turn of 22 h at 50 % speed."],
    [{ speed_percent: 80, turns: 3, turn_hours: 14 }, "3 turns of 14 h at 80 % speed."],
    [{ sets: 4 }, "4 moves of 5 h 30, one after the other."],
    [
      { pulses: 3, on_hours: 1, pause_hours: 1.25 },
      "In 3 pulses of 1 h, 1 h 15 between, so that it does not run off.",
    ],
    [{}, ""],
  ])("%o", (over, words) => {
    expect(runWords(anAnswer({ run: { ...run, ...rest, ...over } }))).toBe(words);
  });

  it("or why it is not", () => {
    const hold = {
      id: 1,
      block_id: 4,
      block: "Alder Reach",
      kind: "cutting" as const,
      starts_at: "2026-07-14T00:00:00Z",
      ends_at: "2026-07-17T10:00:00Z",
      note: "third cut",
    };
    expect(heldWords({ holds: [hold] }, time)).toBe(
      "No irrigation until Fri 12:00: cutting (third cut).",
    );
  });

  it("or when it is planned, or runs", () => {
    const planned = {
      id: 1,
      status: "planned" as const,
      starts_at: "2026-07-16T06:10:00Z",
      ends_at: "2026-07-17T06:10:00Z",
      start_hours: 50,
      end_hours: 74,
      gross_mm: 20,
    };
    expect(plannedWords([planned], time, "metric")).toBe("scheduled Thu 08:10 · 24 h · 20 mm");
    const runs = { ...planned, status: "running" as const, ends_at: "2026-07-14T07:10:00Z" };
    expect(plannedWords([runs], time, "metric")).toBe("running until 09:10 · 20 mm");
    expect(plannedWords([{ ...planned, end_hours: -1 }], time, "metric")).toBeNull();
  });
});
