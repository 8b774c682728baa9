import { describe, expect, it } from "vitest";
import { added, isFree, lasting, moved, pinned, removed, split, swapped } from "./changes";
import { aSet, aSheet } from "../testing/runSheet";

const one = aSet({ id: 1, start: 10, hours: 5, slots: 3 });
const two = aSet({ id: 2, start: 40, hours: 4, slots: 2 });
const other = aSet({ id: 3, block_id: 8, start: 20, hours: 6, slots: 3 });
const sheet = aSheet({ sets: [one, two, other] });
const sent = (id: number, start: number, hours: number, held = false) => ({
  id,
  start,
  hours,
  pinned: held,
});

describe("changes to a run sheet", () => {
  it("move one and leave the block's others", () => {
    expect(moved(sheet, one, 12)).toEqual({
      block_id: 7,
      sets: [sent(1, 12, 5), sent(2, 40, 4)],
    });
  });
  it("keep it within the days of the sheet", () => {
    expect(moved(sheet, one, -3).sets[0]?.start).toBe(0);
    expect(moved(sheet, one, 119).sets[0]?.start).toBe(117);
  });
  it("stretch it, no shorter than half an hour and no longer than the sheet", () => {
    expect(lasting(sheet, one, 7.5).sets[0]).toEqual(sent(1, 10, 7.5));
    expect(lasting(sheet, one, -1).sets[0]?.hours).toBe(0.5);
    expect(lasting(sheet, one, 1000).sets[0]?.hours).toBe(220);
  });
  it("pin it and leave it out", () => {
    expect(pinned(sheet, two, true).sets).toEqual([sent(1, 10, 5), sent(2, 40, 4, true)]);
    expect(removed(sheet, one).sets).toEqual([sent(2, 40, 4)]);
  });
  it("split it in two halves with a slot between", () => {
    // 2.5 h take two slots: 10 and 11; 12 is free.
    expect(split(sheet, one).sets).toEqual([sent(1, 10, 2.5), sent(0, 13, 2.5), sent(2, 40, 4)]);
  });
  it("swap the starts of two, of one block or of two", () => {
    expect(swapped(sheet, one, two)).toEqual([
      { block_id: 7, sets: [sent(1, 40, 5), sent(2, 10, 4)] },
    ]);
    expect(swapped(sheet, one, other)).toEqual([
      { block_id: 7, sets: [sent(1, 20, 5), sent(2, 40, 4)] },
      { block_id: 8, sets: [sent(3, 10, 6)] },
    ]);
  });
  it("add one, pinned, for a person wants it there", () => {
    expect(added(sheet, 8, 60, 3).sets).toEqual([sent(3, 20, 6), sent(0, 60, 3, true)]);
  });
  it("leave what runs alone", () => {
    expect(
      ["draft", "announced", "running", "done"].map((status) =>
        isFree(aSet({ status: status as "draft" })),
      ),
    ).toEqual([true, true, false, false]);
  });
});
