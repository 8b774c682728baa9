import { describe, expect, test } from "vitest";
import { FarmTime } from "../time/farmTime";
import { byDay } from "./byDay";
import type { Change } from "./queries";

const TIME = new FarmTime("2026-07-14T04:10:00Z", "CET");

const change = (id: number, own: Partial<Change> = {}): Change => ({
  id,
  at: "2026-07-14T04:00:00Z",
  by: "Maud",
  done: "rain_entered",
  about: `N${id}`,
  block_id: null,
  undone_at: null,
  undone_by: null,
  can_undo: false,
  ...own,
});

const lines = (changes: Change[]) =>
  byDay(changes, TIME).map((day) => day.lines.map((line) => line.about.join("+")));

describe("entries by day", () => {
  test("the day is the farm's, not the browser's", () => {
    // 22:30 and 21:30 UTC on 13 July are 00:30 on the 14th and 23:30 on the 13th in CET+1.
    const days = byDay(
      [change(2, { at: "2026-07-13T22:30:00Z" }), change(1, { at: "2026-07-13T21:30:00Z" })],
      TIME,
    );
    expect(days.map((day) => day.heading)).toEqual(["Tue 14 July", "Mon 13 July"]);
  });

  test("what one act did to several things is one line", () => {
    expect(lines([change(3), change(2), change(1, { done: "soil_added" })])).toEqual([
      ["N3+N2", "N1"],
    ]);
  });

  test.each<[string, Partial<Change>]>([
    ["another person's", { by: "Tam" }],
    ["at another time", { at: "2026-07-14T03:59:00Z" }],
    ["that can be undone", { can_undo: true }],
    ["that was undone", { undone_at: "2026-07-14T04:05:00Z" }],
  ])("an entry %s is a line of its own", (_, own) => {
    expect(lines([change(2), change(1, own)])).toEqual([["N2", "N1"]]);
  });
});
