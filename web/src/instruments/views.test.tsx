import { describe, expect, test } from "vitest";
import { text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { readConstants, writeConstants } from "./Identity";
import type { Health, Rule } from "./queries";
import { TrustBar } from "./TrustBar";
import { concern, failed, lastWord, trustedShare, worries } from "./words";

const WELL: Health = {
  id: 1,
  label: "Probe",
  kind: "capacitance_probe",
  kind_name: "Capacitance probe",
  block_id: 1,
  block: "B",
  serial: "",
  site: "",
  depths_mm: [100],
  status: "in service",
  simulated: true,
  last_at: "2026-07-14T04:00:00Z",
  silent: false,
  readings: 600,
  trusted: 1,
  unreliable: false,
  flags: [],
  battery_v: null,
  signal_dbm: null,
  next_task: null,
  needs_calibration: false,
};
const TASK = { key: "refill", name: "Refill", last: null, due: null, overdue: true };

describe("what wants looking at", () => {
  test("nothing at a well one", () => {
    expect(worries(WELL)).toEqual([]);
    expect(concern(WELL)).toBe(0);
  });

  test.each([
    [{ silent: true }, "no recent readings"],
    [{ last_at: null, silent: true }, "never read"],
    [{ status: "suspect" as const }, "marked suspect"],
    [{ needs_calibration: true }, "no calibration curve"],
    [{ unreliable: true, flags: ["flat line"] }, "flat line"],
    [{ next_task: TASK }, "due: refill"],
  ])("%o", (change, word) => {
    const row = { ...WELL, ...change };
    expect(worries(row)).toContain(word);
    expect(concern(row)).toBeGreaterThan(0);
  });

  test("a retired one is left in peace, below all others", () => {
    const gone: Health = { ...WELL, status: "retired", silent: true, next_task: TASK };
    expect(worries(gone)).toEqual([]);
    expect(concern(gone)).toBeLessThan(concern(WELL));
  });
});

test("not quite all is not a hundred percent", () => {
  expect(trustedShare(0.9999)).toBe("99 %");
  expect(trustedShare(1)).toBe("100 %");
  expect(trustedShare(null)).toBe("–");
  expect(text(<TrustBar share={0.5} />)).toBe("50 %");
});

test("the last word in the farm's time", () => {
  const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
  expect(lastWord("2026-07-14T04:10:00Z", time)).toBe("now");
  expect(lastWord("2026-07-14T01:10:00Z", time)).toBe("3 h ago");
  expect(lastWord(null, time)).toBe("never");
});

const rule = (flag: number): Rule => ({
  flag,
  name: `r${flag}`,
  meaning: "",
  likely: "",
  doubted: true,
  source: "",
});

test("flags as rules", () => {
  expect(failed(5, [rule(1), rule(2), rule(4)]).map((r) => r.name)).toEqual(["r1", "r4"]);
});

test("constants as typed and back", () => {
  expect(readConstants("air = 12800; water=37,2")).toEqual({ air: 12800, water: 37.2 });
  expect(readConstants("")).toEqual({});
  expect(readConstants("air 12800")).toBeNull();
  expect(readConstants("air = many")).toBeNull();
  expect(writeConstants({ air: 1, water: 2.5 })).toBe("air = 1; water = 2.5");
});
