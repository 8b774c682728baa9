import { describe, expect, test } from "vitest";
import { text, type Known } from "../testing/shown";
import { ArrivalList } from "./ArrivalList";
import { LoggerList } from "./LoggerList";
import type { Batch, Device } from "./queries";

const CLOCK: Known[number] = [
  ["farm", "f", "clock"],
  { now: "2026-07-14T04:10:00Z", time_zone: "CET" },
];
const DEVICE: Device = {
  id: 1,
  name: "Lane gateway",
  simulated: false,
  token_hint: "x9Qa",
  instruments: [1, 2],
  made_at: "2026-06-01T00:00:00Z",
  revoked_at: null,
  last_seen_at: "2026-07-14T03:10:00Z",
  skew_seconds: 3,
  clock_wrong: false,
  battery_v: 3.6,
  signal_dbm: -81,
  last_refused: 0,
};
const BATCH: Batch = {
  id: 9,
  origin: "hand",
  file_import: null,
  file_name: "",
  sender: "Maud",
  made_at: "2026-07-14T04:00:00Z",
  first: "2026-07-13T05:00:00Z",
  last: "2026-07-13T05:00:00Z",
  new: 3,
  changed: 1,
  unchanged: 0,
  refused: 0,
  undone_at: null,
  undone_by: "",
};

const loggers = (rows: Device[], may = true) =>
  text(<LoggerList />, "metric", may, [CLOCK, [["farm", "f", "devices"], rows]]);

describe("loggers", () => {
  test("each with its last word, battery, signal and the end of its token", () => {
    const said = loggers([DEVICE]);
    expect(said).toContain("Lane gateway 2 instruments 1 h ago");
    expect(said).toContain("3.6 V -81 dBm 0 ends in x9Qa");
  });

  test("what is not known is a dash, never a zero", () => {
    const silent = { ...DEVICE, battery_v: null, signal_dbm: null, last_seen_at: null };
    expect(loggers([silent])).toMatch(/never .* – –/);
  });

  test("the whole farm, a simulated one, a revoked one", () => {
    const said = loggers([
      { ...DEVICE, instruments: [], simulated: true },
      { ...DEVICE, id: 2, revoked_at: "2026-07-01T00:00:00Z" },
    ]);
    expect(said).toContain("(simulated) the whole farm");
    expect(said).toContain("revoked");
  });

  test("only who manages loggers may make one", () => {
    expect(loggers([])).toContain("New logger");
    expect(loggers([], false)).not.toContain("New logger");
    expect(loggers([])).toContain("No logger sends to this farm yet.");
  });
});

const arrivals = (rows: Batch[], may = true) =>
  text(<ArrivalList />, "metric", may, [CLOCK, [["farm", "f", "batches"], rows]]);

describe("arrivals", () => {
  test("what came, from when to when, and the way back", () => {
    const said = arrivals([BATCH]);
    expect(said).toContain("by hand Maud Mon 13 July 07:00 to Mon 13 July 07:00 3 1 0 0");
    expect(said).toContain("Undo");
    expect(arrivals([BATCH], false)).not.toContain("Undo");
  });

  test("a file is taken back on its own page", () => {
    const said = arrivals([{ ...BATCH, origin: "file", file_name: "carr.csv", file_import: 4 }]);
    expect(said).toContain("Open the file");
    expect(said).not.toContain("Undo");
  });

  test("what was taken back says by whom", () => {
    const gone = { ...BATCH, undone_at: "2026-07-14T04:05:00Z", undone_by: "Ned" };
    expect(arrivals([gone])).toContain("undone by Ned");
    expect(arrivals([])).toContain("No file, round or reading has been received yet.");
  });
});
