import { describe, expect, it } from "vitest";
import { shown, text, type Known } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import type { SetOut, WaterBlock, WaterData } from "./queries";
import { RainByGauge } from "./RainByGauge";
import { emptySet, formOf, setIn } from "./setForm";
import type { FieldReport } from "../jobs/queries";
import { SetLine } from "./SetLine";
import { SetSheet } from "./SetSheet";
import { SetsPage } from "./SetsPage";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const set: SetOut = {
  id: 7,
  block_id: 3,
  block: "Quern Field",
  status: "done",
  started_at: "2026-07-13T18:00:00Z",
  ended_at: "2026-07-13T22:30:00Z",
  gross_mm: 9,
  net_mm: 6.75,
  volume_m3: 810,
  share: 0.5,
  amount_from: "meter",
  planned_start_at: "2026-07-13T18:00:00Z",
  planned_gross_mm: 18.9,
  meter_start_m3: 100,
  meter_end_m3: 910,
  meter_shared_with: 0,
  note: "half the laterals",
  made_by: "Tam Orrowby",
  way: null,
};
const way: SetOut["way"] = {
  place_from: 0,
  place_to: 1,
  place: 0.625,
  expected_end: "2026-07-14T22:10:00Z",
  positions: [],
};
const nothing = () => undefined;
const line = (over: Partial<SetOut>, may = true, reports: FieldReport[] = []) =>
  text(
    <SetLine
      set={{ ...set, ...over }}
      time={time}
      reports={reports}
      end={nothing}
      correct={nothing}
    />,
    "metric",
    may,
  );

describe("a set in the log", () => {
  it("says when, how much, known by what, and what was planned", () => {
    const said = line({});
    expect(said).toContain("Quern Field 9 mm gross, 4 h 30, 810 m³");
    expect(said).toContain("Mon 13 July 20:00 to Tue 14 July 00:30 · by meter · 50 % of the block");
    expect(said).toContain("19 mm was scheduled · Tam Orrowby · half the laterals");
    expect(said).toContain("Did not run");
  });

  it("offers what can be done with it, to who may", () => {
    expect(line({ status: "planned", ended_at: "2026-07-15T00:00:00Z" })).toContain("Start");
    expect(line({ status: "planned" })).toContain("Scheduled, not confirmed");
    expect(line({ status: "planned" })).toContain("It ran");
    expect(line({ status: "running" })).toContain("End");
    expect(line({ status: "cancelled" })).not.toContain("Correct");
    expect(line({}, false)).not.toContain("Correct");
  });
});

describe("a set on its way over the block", () => {
  it("says where it is, when it ends, and offers to record a position while it runs", () => {
    const said = line({ status: "running", way });
    expect(said).toContain("now at 62.5 % of the path, ends about Wed 15 July 00:10");
    expect(said).toContain("Record position");
    expect(line({ status: "done", way })).not.toContain("of the way");
    expect(line({ status: "done", way })).not.toContain("Record position");
    expect(line({ status: "running" })).not.toContain("Record position");
  });

  it("says where it stands since when, and what part of the block it crossed", () => {
    const positions = [
      { at: "2026-07-13T20:00:00Z", place: 0.2, going: "forward" as const },
      { at: "2026-07-14T02:00:00Z", place: 0.5, going: "stopped" as const },
    ];
    const stopped = line({ status: "running", way: { ...way, place: 0.5, positions } });
    expect(stopped).toContain("now at 50 % of the path, stopped since Tue 14 July 04:00");
    expect(stopped).toContain("seen at 50 % Tue 14 July 04:00, stopped");
    expect(line({ status: "done", way: { ...way, positions } })).toContain("Positions");
    const back = { ...way, place_from: 1, place_to: 0.75 };
    expect(line({ status: "done", way: back })).toContain("100 to 75 % of the path");
  });

  it("keeps its places in the form, and leaves unknown ones to the server", () => {
    const back = { ...set, way: { ...way, place_from: 1, place_to: 0.75 } };
    const kept = setIn(formOf(back, time, "metric", false), "metric");
    expect([kept.place_from, kept.place_to]).toEqual([1, 0.75]);
    const empty = setIn(emptySet(time, [3]), "metric");
    expect([empty.place_from, empty.place_to]).toEqual([null, null]);
  });

  it("keeps a depth that nobody typed, whatever the unit", () => {
    const stored = { ...set, gross_mm: 7.3, share: 1, amount_from: "depth" as const };
    const form = formOf(stored, time, "us", false);
    expect(form.depth).toBe("0.287");
    expect(setIn(form, "us", stored).gross_mm).toBe(7.3);
  });
});

describe("the form of a set", () => {
  it("sends the hours of a plan, and the end of what ran", () => {
    const empty = emptySet(time, [3]);
    expect(empty.started).toBe("2026-07-14T06:10");
    const planned = setIn({ ...empty, status: "planned", hours: "4,5" }, "metric");
    expect(planned).toMatchObject({ hours: 4.5, ended_at: null, gross_mm: null, share: 1 });
    const ran = setIn({ ...empty, by: "depth", depth: "0.5", share: "25" }, "us");
    expect(ran.gross_mm).toBeCloseTo(12.7);
    expect(ran).toMatchObject({ share: 0.25, ended_at: "2026-07-14T06:10", hours: null });
  });

  it("opens a set as it stands, and ends a running one now", () => {
    const open = formOf(set, time, "metric", false);
    expect(open).toMatchObject({ by: "meter", meterEnd: "910", share: "50", depth: "18" });
    expect(setIn(open, "metric")).toMatchObject({ meter_start_m3: 100, meter_end_m3: 910 });
    const ended = formOf({ ...set, status: "running" }, time, "metric", true);
    expect(ended).toMatchObject({ status: "done", ended: "2026-07-14T06:10", by: "meter" });
    const unread = { ...set, status: "running" as const, meter_start_m3: null };
    expect(formOf(unread, time, "metric", true).by).toBe("hours");
  });
});

describe("the page of sets", () => {
  const water: WaterData = {
    now: "2026-07-14T04:10:00Z",
    time_zone: "CET",
    sets: [set],
    given_count: 1,
    holds: [
      {
        id: 1,
        block_id: 3,
        block: "Quern Field",
        kind: "spray",
        starts_at: "2026-07-14T00:00:00Z",
        ends_at: "2026-07-16T10:00:00Z",
        note: "",
      },
    ],
    rain: [{ date: "2026-07-09", rain_mm: 7.9, source: "x" }],
  };

  const asked = { days: 14, find: "", given: 100 };
  const known = (log: WaterData): Known => [[["farm", "f", "water", asked], log]];

  it("shows what is to be done, given, held and fallen", () => {
    const said = text(<SetsPage />, "metric", true, known(water));
    expect(said).not.toContain("Show more");
    expect(said).toContain("Nothing is scheduled.");
    expect(said).toContain("Quern Field spray interval, until Thu 12:00");
    expect(said).toContain("Thu 9 July 7.9 mm");
  });

  it("asks nothing of who may only look", () => {
    const markup = shown(<SetsPage />, "metric", false, known(water));
    expect(markup).not.toContain("Log irrigation");
    expect(markup).not.toContain("Lift the hold");
  });

  it("says how much of a long log it shows, and offers the rest", () => {
    const said = text(<SetsPage />, "metric", true, known({ ...water, given_count: 1560 }));
    expect(said).toContain("Show more 1 of 1560 shown, the newest first");
  });

  it("says when no rain is on record", () => {
    const dry = { ...water, rain: [] };
    expect(text(<RainByGauge water={dry} time={time} />)).toContain("No rain was recorded");
  });
});

const block = (id: number): WaterBlock => ({
  id,
  name: `Block ${id}`,
  area_m2: 1e4,
  rate_mm_h: 4,
  moves: false,
  system: "drip",
  supply: id % 2 ? "North bore" : "",
  irrigator: null,
});
const sheet = (count: number) => {
  const blocks = Array.from({ length: count }, (_, k) => block(k + 1));
  const known: Known = [[["farm", "f", "water-blocks"], blocks]];
  return shown(<SetSheet time={time} close={nothing} />, "metric", true, known);
};
const correcting = (more: Partial<SetOut>) =>
  text(<SetSheet time={time} set={{ ...set, ...more }} close={nothing} />);

describe("logging water on many blocks", () => {
  it("searches and groups where there are many, and names what is selected", () => {
    const said = sheet(40);
    expect(said).toContain("Find blocks");
    expect(said).toContain("Group by");
    expect(said).toContain("All shown (40)");
    expect(said).toContain("No block selected.");
  });

  it("asks no such thing where few are seen at a glance", () => {
    const said = sheet(3);
    expect(said).not.toContain("Find blocks");
    expect(said).not.toContain("All shown");
    expect(said).toContain("Block 3");
  });

  it("waits for the blocks", () => {
    expect(text(<SetSheet time={time} close={nothing} />)).toContain("Loading the blocks");
  });

  it("says what else a shared meter counted", () => {
    expect(correcting({ meter_shared_with: 1 })).toContain(
      "This meter also measured the water of one other block.",
    );
    expect(correcting({ meter_shared_with: 3 })).toContain("3 other blocks");
    expect(correcting({})).not.toContain("also counted");
    expect(correcting({ meter_shared_with: 1, amount_from: "depth" })).toContain(
      "the metered volume goes to one other block",
    );
  });
});

describe("what was reported of a set from the field", () => {
  it("is told beneath it: who, when, why, meter, pressure, picture", () => {
    const report: FieldReport = {
      irrigation_id: 1,
      kind: "stop",
      at: "2026-07-14T03:30:00Z",
      meter_m3: 1520,
      pressure_kpa: 310,
      why: "breakdown",
      note: "",
      made_by: "Tam Orrowby",
      photo_id: 4,
    };
    const said = line({}, true, [report]);
    expect(said).toContain("by Tam Orrowby");
    expect(said).toContain("meter 1,520 m³ · 3.1 bar");
    expect(said).toContain("Picture");
    const plain = { ...report, meter_m3: null, pressure_kpa: null, photo_id: null };
    expect(line({}, true, [plain])).not.toMatch(/meter \d|bar|Picture/);
  });
});
