import "fake-indexeddb/auto";
import { beforeEach, describe, expect, test } from "vitest";
import { Refusal } from "../api/client";
import { FarmTime } from "../time/farmTime";
import type { Round, RoundChannel, VisitIn, VisitOut } from "./queries";
import { judged, numberOf, pressed } from "./reading";
import { sendWaiting } from "./sending";
import { dropUnsent, endWalk, keepUnsent, keepWalk, unsentOf, walkOf } from "./store";
import { dueWord, moved } from "./words";

const CHANNEL: RoundChannel = {
  id: 1,
  depth_mm: 300,
  unit: "cbar",
  last: 30,
  last_at: "2026-07-13T05:00:00Z",
  signed: false,
  usual_low: -5,
  usual_high: 80,
  possible_low: -20,
  possible_high: 5000,
};

describe("a typed figure", () => {
  test.each([
    ["", "empty"],
    ["  ", "empty"],
    ["-", "unreadable"],
    ["3x", "unreadable"],
    ["32", "fine"],
    ["32,5", "fine"],
    ["95", "surprising"],
    ["-30", "impossible"],
    ["99999", "impossible"],
  ])("“%s” is %s", (text, state) => {
    expect(judged(text, CHANNEL).state).toBe(state);
  });

  test("a printed minus is one", () => expect(numberOf("−0,8")).toBe(-0.8));

  test("keys", () => {
    expect(["1", ".", "5", ".", "back", "minus"].reduce(pressed, "")).toBe("-1.");
    expect(pressed("-1", "minus")).toBe("1");
    expect(pressed("123456789", "0")).toBe("123456789");
  });
});

function visit(key: string): VisitIn {
  return {
    key,
    instrument_id: 1,
    round_id: 1,
    at: "2026-07-14T04:00:00Z",
    unit: "cbar",
    values: [{ channel_id: 1, value: 20 }],
    done: [],
    skipped: "",
    note: "",
  };
}

const keep = (key: string, madeAt: number) =>
  keepUnsent({ key, slug: "f", madeAt, label: key, visit: visit(key), refused: "", photo: null });

const taken = (key: string): VisitOut => ({
  key,
  taken: true,
  repeated: false,
  message: "",
  problems: [],
});

describe("the outbox", () => {
  beforeEach(async () => {
    await Promise.all((await unsentOf("f")).map((u) => dropUnsent(u.key)));
  });

  test("keeps what can't be sent and says why", async () => {
    await keep("a", 1);
    const report = await sendWaiting("f", () => {
      throw new Refusal(0, "", []);
    });
    expect(report).toEqual({ sent: 0, left: 1, trouble: "No signal: it will be sent later." });
    const out = await sendWaiting("f", () => {
      throw new Refusal(401, "", []);
    });
    expect(out.trouble).toContain("sign in again");
    expect(await unsentOf("f")).toHaveLength(1);
  });

  test("lets go only of what was taken", async () => {
    await keep("b", 2);
    await keep("a", 1);
    const asked: string[] = [];
    const report = await sendWaiting("f", (_, visits) => {
      asked.push(...visits.map((v) => v.key));
      return Promise.resolve([
        taken("a"),
        { ...taken("b"), taken: false, message: "Not stored.", problems: [] },
      ]);
    });
    expect(asked).toEqual(["a", "b"]);
    expect(report).toEqual({ sent: 1, left: 1, trouble: "" });
    expect((await unsentOf("f"))[0]?.refused).toBe("Not stored.");
    // A refused card waits for a person; it is not sent over and over.
    await sendWaiting("f", (_, visits) => {
      asked.push(...visits.map((v) => v.key));
      return Promise.resolve([]);
    });
    expect(asked).toEqual(["a", "b"]);
  });

  test("sends the age of a card by the phone's own watch", async () => {
    await keep("a", Date.now() - 600_000);
    let age = 0;
    await sendWaiting("f", (_, visits) => {
      age = visits[0]?.age_seconds ?? 0;
      return Promise.resolve([taken("a")]);
    });
    expect(age).toBeGreaterThanOrEqual(600);
    expect(age).toBeLessThan(610);
  });

  test("an answer lost on the way: the card stays and goes again under its own name", async () => {
    await keep("a", 1);
    const keys: string[] = [];
    await sendWaiting("f", (_, visits) => {
      keys.push(...visits.map((v) => v.key));
      throw new Refusal(0, "", []);
    });
    await sendWaiting("f", (_, visits) => {
      keys.push(...visits.map((v) => v.key));
      return Promise.resolve([{ ...taken("a"), repeated: true }]);
    });
    expect(keys).toEqual(["a", "a"]);
    expect(await unsentOf("f")).toEqual([]);
  });

  test("is the farm's own", async () => {
    await keep("a", 1);
    expect(await unsentOf("g")).toEqual([]);
  });
});

test("a walk is found again where it was left", async () => {
  const walk = await walkOf("f", 7);
  expect(walk.done).toEqual({});
  await keepWalk({ ...walk, done: { 3: "read" }, drafts: { 4: { 9: "2" } } });
  expect(await walkOf("f", 7)).toMatchObject({ done: { 3: "read" }, drafts: { 4: { 9: "2" } } });
  await endWalk("f", 7);
  expect((await walkOf("f", 7)).done).toEqual({});
});

test("when a round is due", () => {
  const time = new FarmTime("2026-07-14T06:00:00Z", "CET");
  const round: Round = { id: 1, name: "R", every_days: 3, last_at: null, stops: [] };
  expect(dueWord(round, time)).toBe("not done yet");
  const last = (days: number) => ({
    ...round,
    last_at: new Date(time.now.getTime() - days * 86_400_000).toISOString(),
  });
  expect(dueWord(last(4), time)).toContain("overdue");
  expect(dueWord(last(2.5), time)).toContain("due today");
  expect(dueWord(last(0.5), time)).toContain("due in 2 d");
});

test("stops change places", () => {
  expect(moved(["a", "b", "c"], 2, -1)).toEqual(["a", "c", "b"]);
  expect(moved(["a", "b"], 0, -1)).toEqual(["a", "b"]);
});
