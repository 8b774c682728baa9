import { describe, expect, test } from "vitest";
import { text, type Known } from "../testing/shown";
import { StopBar } from "./StopBar";
import { StopButton } from "./StopButton";
import { ValvesPage } from "./ValvesPage";
import { entryWord, stateWord } from "./words";
import type { Valve, ValveAlarm, Valves } from "./queries";

const CLOCK: Known[number] = [
  ["farm", "f", "clock"],
  { now: "2026-07-14T04:10:00Z", time_zone: "CET" },
];
const VALVE: Valve = {
  id: 4,
  controller_id: 1,
  controller: "Pump house",
  number: 4,
  name: "Terrace valve",
  block_id: 6,
  block: "Wick Terrace",
  expected_ls: 12.5,
  is_open: true,
  flow_ls: 12.4,
  volume_m3: 3.25,
  closes_in_s: 3000,
  locked_out: false,
  silent: false,
  opening: false,
  closing: false,
};
const ALARM: ValveAlarm = {
  id: 7,
  valve_id: 4,
  valve: "Terrace valve",
  block: "Wick Terrace",
  fault: "burst",
  flow_ls: 22.5,
  expected_ls: 12.5,
  began_at: "2026-07-14T04:00:00Z",
  ended_at: null,
  what_to_do: "Close the valve.",
};
const ALL: Valves = {
  now: "2026-07-14T04:10:00Z",
  time_zone: "CET",
  on: true,
  stop: null,
  controllers: [
    {
      id: 1,
      name: "Pump house",
      simulated: true,
      token_hint: "x9Qa",
      revoked: false,
      heard_s_ago: 2,
      silent: false,
      longest_min: 840,
      contact_s: 60,
    },
  ],
  valves: [VALVE],
  alarms: [],
  scheduled: [],
  record: [],
};

const page = (more: Partial<Valves> = {}, may = true) =>
  text(<ValvesPage />, "metric", may, [
    CLOCK,
    [["farm", "f", "water-blocks"], []],
    [["farm", "f", "valves", "all"], { ...ALL, ...more }],
  ]);

describe("valves", () => {
  test("an open one with its flow beside the expected one, and when it closes", () => {
    const said = page();
    expect(said).toContain("Terrace valve Wick Terrace · Pump house, output 4 Open");
    expect(said).toContain("closes in 50 min");
    expect(said).toContain("44.6 m³/h 45.0 m³/h 3.3 m³ Close");
    expect(said).toContain("Pump house (simulated) 2 seconds ago 14 h after 60 s ends in x9Qa");
  });

  test("flow in gallons for whoever has US units", () => {
    const known: Known = [CLOCK, [["farm", "f", "valves", "all"], ALL]];
    expect(text(<ValvesPage />, "us", true, known)).toContain("197 gal/min 198 gal/min");
  });

  test("who may not operate them looks only", () => {
    const said = page({ alarms: [ALARM] }, false);
    expect(said).not.toContain("Close Change");
    expect(said).not.toContain("Confirm alarm");
    expect(said).not.toContain("New valve");
  });

  test("switched off it says what it would do, with the cautions", () => {
    const said = page({ on: false, valves: [], controllers: [] });
    expect(said).toContain("Valve control is off.");
    expect(said).toContain("Valves that open from afar can hurt people");
    expect(said).toContain("No controller is set up");
    expect(page({ on: false }, false)).toContain("manager can switch it on");
  });

  test("an alarm says what flows, what should, and what to do", () => {
    const said = page({ alarms: [ALARM] });
    expect(said).toContain("Terrace valve: too much flow, perhaps a burst pipe");
    expect(said).toContain("81.0 m³/h beside 45.0 m³/h expected, since Tue 14 July 06:00.");
    expect(said).toContain("Close the valve.");
    const over = page({ alarms: [{ ...ALARM, ended_at: "2026-07-14T04:05:00Z" }] });
    expect(over).toContain("Over since Tue 14 July 06:05.");
  });

  test("the record says what happened, why, and on whose word", () => {
    const at = "2026-07-14T04:00:00Z";
    const said = page({
      record: [
        { at, about: "Terrace valve", kind: "closed", why: "run_time", by: null },
        { at, about: "Terrace valve", kind: "opening_confirmed", why: "", by: "Maud" },
      ],
    });
    expect(said).toContain("Tue 14 July 06:00 Terrace valve Closed: run time over");
    expect(said).toContain("Opening confirmed Maud");
  });

  test("how a valve stands is not guessed without contact", () => {
    expect(stateWord(VALVE)).toBe("Open");
    expect(stateWord({ ...VALVE, silent: true })).toBe("No contact; open before");
    expect(stateWord({ ...VALVE, is_open: false, silent: true })).toBe("No contact; closed before");
    expect(stateWord({ ...VALVE, is_open: null })).toBe("Not known");
    expect(stateWord({ ...VALVE, is_open: false, locked_out: true })).toBe(
      "Locked out in the field",
    );
    expect(stateWord({ ...VALVE, closing: true })).toBe("Closing…");
    expect(stateWord({ ...VALVE, is_open: false, opening: true })).toBe("Opening…");
  });

  test("a reason that it does not know is left out, not shown raw", () => {
    const entry = { at: "", about: "", kind: "opening_refused" as const, why: "new_one", by: null };
    expect(entryWord(entry)).toBe("Not opened");
    expect(entryWord({ ...entry, why: "locked_out" })).toBe("Not opened: locked out in the field");
  });
});

const WATCH = { on: true, stop: null, open: 0, out_of_contact: [], alarms: [] };
const bar = (more: object, may = true) =>
  text(<StopBar />, "metric", may, [
    CLOCK,
    [["farm", "f", "valves", "watch"], { ...WATCH, ...more }],
  ]);

describe("the bar of every screen", () => {
  test("how many are open, and the stop", () => {
    expect(bar({})).toBe("No valve is open Emergency stop");
    expect(bar({ open: 2 })).toContain("2 valves are open");
  });

  test("a stop says who it was, and who has not confirmed", () => {
    const stop = { at: "2026-07-14T04:10:00Z", by: "Maud", not_confirmed: ["Pump house"] };
    const said = bar({ stop });
    expect(said).toContain("Emergency stop since Tue 14 July 06:10, by Maud.");
    expect(said).toContain("Not confirmed by Pump house: check these valves in the field.");
    expect(said).toContain("Release the stop");
    expect(bar({ stop }, false)).not.toContain("Release");
    expect(bar({ stop: { ...stop, not_confirmed: [] } })).toContain("All controllers confirm");
  });

  test("alarms, two of them in full", () => {
    const said = bar({ alarms: [1, 2, 3].map((id) => ({ ...ALARM, id })) });
    expect(said.match(/Terrace valve:/g)).toHaveLength(2);
    expect(said).toContain("1 more alarm");
  });

  test("valves that were open when contact was lost", () => {
    expect(bar({ out_of_contact: ["Terrace valve"] })).toContain(
      "Terrace valve: open when contact was lost.",
    );
  });

  test("once it is stopped there is nothing to stop", () => {
    const stop = { at: "2026-07-14T04:10:00Z", by: null, not_confirmed: [] };
    const known: Known = [[["farm", "f", "valves", "watch"], { ...WATCH, stop }]];
    expect(text(<StopButton />, "metric", true, known)).toBe("");
    expect(bar({ stop })).toContain("by somebody");
  });
});
