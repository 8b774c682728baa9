import { describe, expect, it } from "vitest";
import { cheapAndDear, lanes, packed, stretches } from "./lanes";
import { aSet, aSheet } from "../testing/runSheet";

const bar = (key: string, from: number, to: number) => ({
  key,
  block: 7,
  name: "",
  starts: new Date(from),
  ends: new Date(to),
  gross_mm: 1,
  set: null,
  standing: null,
});

describe("lanes of a run sheet", () => {
  it("use a second row only for what runs at the same time", () => {
    const { bars, rows } = packed([bar("c", 10, 20), bar("a", 0, 10), bar("b", 5, 12)]);
    expect(bars.map((b) => [b.key, b.row])).toEqual([
      ["a", 0],
      ["b", 1],
      ["c", 0],
    ]);
    expect(rows).toBe(2);
    expect(packed([]).rows).toBe(1);
  });
  it("are the sources in their order, also those at rest; or people; or machines", () => {
    const sheet = aSheet({ sets: [aSet({}), aSet({ id: 2, block_id: 8 })] });
    const shown = (by: "source" | "person" | "machine") =>
      lanes(sheet, by).map((l) => [l.name, l.bars.map((b) => b.name), l.source]);
    expect(shown("source")).toEqual([
      ["North bore", ["Quern Field"], 0],
      ["Hill tank", ["Wick Terrace"], 1],
    ]);
    expect(shown("person")).toEqual([
      ["", ["Wick Terrace"], null],
      ["Tam Orrowby", ["Quern Field"], null],
    ]);
    expect(shown("machine")).toEqual([["Portable pump", ["Wick Terrace"], null]]);
    expect(lanes(aSheet({ sets: [] }), "source").map((l) => l.bars)).toEqual([[], []]);
  });
  it("show what a person scheduled beside the sheet, and what runs once", () => {
    const standing = {
      irrigation_id: 5,
      block_id: 7,
      start: 3,
      slots: 2,
      starts_at: "2026-07-14T04:00:00Z",
      ends_at: "2026-07-14T08:00:00Z",
      gross_mm: 12,
      volume_m3: 1200,
      running: true,
    };
    const keys = (sets: ReturnType<typeof aSet>[]) =>
      lanes(aSheet({ sets, standing: [standing] }), "source")[0]?.bars.map((b) => b.key);
    expect(keys([aSet({})])).toEqual(["standing-5", "set-1"]);
    expect(keys([aSet({ irrigation_id: 5, status: "running" })])).toEqual(["set-1"]);
  });
  it("join slots on end, and know the cheapest and the dearest", () => {
    expect(stretches([3, 4, 7])).toEqual([
      [3, 5],
      [7, 8],
    ]);
    expect(cheapAndDear([1, 1, 3, 2])).toEqual({ cheap: [0, 1], dear: [2] });
    expect(cheapAndDear([2, 2])).toEqual({ cheap: [], dear: [] });
  });
});
