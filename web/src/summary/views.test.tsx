import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import type { Morning, Summary, SummaryLine } from "./queries";
import { SummaryPage } from "./SummaryPage";

const line: SummaryLine = {
  block_id: 4,
  block: "Quern Field",
  crop: "Potato",
  state: "below_refill",
  start_at: "2026-07-14T04:10:00Z",
  hours: 7.3333,
  gross_mm: 31,
  volume_m3: 2480,
  supply: "River pump",
  irrigator: "Tam Orrowby",
  why: ["critical_stage"],
  decision: null,
  scheduled: null,
};

const calm: Summary = {
  farm: "Thistlewick Levels",
  time_zone: "CET",
  now: "2026-07-14T04:10:00Z",
  simulated: true,
  below_refill: 0,
  today: [],
  by_supply: [],
  by_irrigator: [],
  next: [],
  changes: [],
  applied: [],
  no_data: [],
  on_hold: [],
  asked: [],
  instruments: [],
  overdue_tasks: 0,
  weather: [],
};

function shown(summary: Partial<Summary>, units: "metric" | "us" = "metric"): string {
  const known: Morning = {
    summary: { ...calm, ...summary },
    morning_mail: true,
    has_calendar: true,
  };
  return text(<SummaryPage />, units, true, [[["farm", "f", "morning"], known]]);
}

describe("the daily summary", () => {
  it("says what to irrigate, when, how long, how much, by whom and why", () => {
    const said = shown({ today: [line], below_refill: 1 });
    expect(said).toContain("1 block to irrigate today; 1 below refill.");
    expect(said).toContain(
      "Quern Field Potato Below refill The crop is in its most sensitive stage, so less risk of stress is accepted. start now River pump · Tam Orrowby 7 h 20 31 mm · 2,480 m³",
    );
  });

  it.each([
    [{ start_at: "2026-07-14T16:00:00Z" }, "start by today 18:00"],
    [{ start_at: null }, "start now"],
    [{ scheduled: set("planned") }, "scheduled tomorrow 06:00"],
    [{ scheduled: set("running") }, "running until tomorrow 10:30"],
  ] as [Partial<SummaryLine>, string][])("tells the start: %o", (over, words) => {
    expect(shown({ today: [{ ...line, ...over }] })).toContain(words);
  });

  it("sums by water supply and by irrigator, and says who is not assigned", () => {
    const by_supply = [{ name: "River pump", blocks: 2, hours: 12.5, volume_m3: 4000 }];
    const by_irrigator = [{ name: "", blocks: 2, hours: 12.5, volume_m3: 4000 }];
    const said = shown({ today: [line], by_supply, by_irrigator });
    expect(said).toContain("River pump 2 blocks 12 h 30 4,000 m³");
    expect(said).toContain("not assigned 2 blocks 12 h 30 4,000 m³");
    expect(shown({ today: [line], by_supply }, "us")).toContain("1,056,700 gal");
  });

  it.each([
    ["below_refill", "fell below refill"],
    ["no_longer_below", "is no longer below refill"],
    ["newly_due", "is now due by Wed 15 July 08:00"],
    ["earlier", "is due earlier: by Wed 15 July 08:00 instead of Fri 17 July 08:00"],
    ["later", "is due later: by Wed 15 July 08:00 instead of Fri 17 July 08:00"],
    ["no_longer_due", "is no longer due in sight"],
    ["data_lost", "has no reliable data any more"],
    ["data_back", "has reliable data again"],
  ] as [Summary["changes"][number]["kind"], string][])("tells what changed: %s", (kind, words) => {
    const changes = [
      {
        block_id: 4,
        block: "Quern Field",
        kind,
        was_at: "2026-07-17T06:00:00Z",
        now_at: "2026-07-15T06:00:00Z",
      },
    ];
    expect(shown({ changes })).toContain(`Quern Field ${words}`);
  });

  it("tells what was irrigated since", () => {
    const applied = [
      { block_id: 4, block: "Quern Field", ended_at: "2026-07-14T02:00:00Z", gross_mm: 18.4 },
    ];
    expect(shown({ applied })).toContain(
      "Quern Field was irrigated with 18 mm until Tue 14 July 04:00",
    );
  });

  it("names what needs attention", () => {
    const said = shown({
      asked: [{ block_id: 4, block: "Quern Field", kind: "water_not_logged" }],
      no_data: [{ block_id: 5, block: "Gorse Piece", reasons: ["no_reliable_reading"] }],
      on_hold: [
        { block_id: 6, block: "Sallow Bank", hold: "cutting", until: "2026-07-17T10:00:00Z" },
      ],
      instruments: [
        {
          instrument_id: 9,
          label: "Probe G1",
          block: "Gorse Piece",
          silent: false,
          needs_calibration: false,
          reliable: 0.5,
        },
      ],
      overdue_tasks: 2,
    });
    expect(said).toContain("Quern Field : was it irrigated? Readings show water");
    expect(said).toContain("Gorse Piece : No reliable data. No instrument has sent");
    expect(said).toContain("Sallow Bank : on hold until Fri 17 July 12:00 (cutting)");
    expect(said).toContain("Probe G1 (Gorse Piece): 50 % of the readings are reliable");
    expect(said).toContain("2 instruments have overdue maintenance");
  });

  it("tells recorded weather from forecast, and leaves out what is not known", () => {
    const weather = [
      { on: "2026-07-13", recorded: true, et0_mm: null, rain_mm: 4, rain_chance: null },
      { on: "2026-07-14", recorded: false, et0_mm: 5.8, rain_mm: 0, rain_chance: 0.2 },
    ];
    const said = shown({ weather });
    expect(said).toContain("Mon 13 July recorded – 4.0");
    expect(said).toContain("Tue 14 July forecast 5.8 0.0 20 %");
  });

  it("is calm when nothing is due, and offers the ways it can come", () => {
    const said = shown({});
    expect(said).toContain("No irrigation is due today.");
    expect(said).toContain("Needs attention Nothing.");
    expect(said).toContain("No change in the advice, and no irrigation ended.");
    expect(said).toContain("Each morning to m@example.org");
    expect(said).toContain("Create a new address Revoke");
  });
});

function set(status: "planned" | "running"): SummaryLine["scheduled"] {
  return {
    id: 1,
    status,
    starts_at: "2026-07-15T04:00:00Z",
    ends_at: "2026-07-15T08:30:00Z",
    start_hours: 23.83,
    end_hours: 28.33,
    gross_mm: 20,
  };
}
