import { describe, expect, it } from "vitest";
import { anAnswer } from "../testing/answers";
import { text } from "../testing/shown";
import { HistoryPage } from "./HistoryPage";
import { PastAdvicePage } from "./PastAdvicePage";
import type { HistoryData, HistoryRow, PastAdvice } from "./queries";

const row: HistoryRow = {
  id: 9,
  day: "2026-07-11",
  made_at: "2026-07-11T04:10:00Z",
  state: "irrigate_now",
  start_at: "2026-07-12T01:00:00Z",
  gross_mm: 12,
  hours: 2.97,
  decisions: [
    {
      id: 1,
      kind: "changed",
      why: null,
      reason: "as the rota has it",
      made_at: "2026-07-11T04:30:00Z",
      made_by: "Maud",
      set_id: 4,
    },
  ],
  sets: [],
  given_mm: 15.2,
  low_mm: -3.4,
  below_refill_days: 1.5,
};
const history: HistoryData = {
  block: "Quern Field",
  time_zone: "CET",
  now: "2026-07-14T04:10:00Z",
  rows: [
    row,
    {
      ...row,
      id: 8,
      day: "2026-07-10",
      decisions: [],
      given_mm: 0,
      low_mm: null,
      below_refill_days: null,
    },
  ],
};
const at = { pattern: ":farm/blocks/:block/history", path: "/f/blocks/3/history" };

describe("past advice", () => {
  const key = ["farm", "f", "block", 3, "history", 14];

  it("says what was advised, decided, given, and what came of it", () => {
    const said = text(<HistoryPage />, "metric", true, [[key, history]], at);
    expect(said).toContain(
      "Sat 11 July Irrigate now by Sun 12 July 03:00, 2 h 58, 12 mm Adjusted, Maud: as the rota has it 15 mm -3 mm 1.5 d",
    );
    // Unknown is unknown, and nothing given is not nothing known.
    expect(said).toContain("nothing – – –");
  });

  it("says so where nothing is on record yet", () => {
    const none = { ...history, rows: [] };
    const said = text(<HistoryPage />, "metric", true, [[key, none]], at);
    expect(said).toContain("No advice is on record in these days.");
  });
});

describe("one morning", () => {
  const given = anAnswer({ state: "irrigate_now", deficit_mm: 9.9 });
  const assumed: PastAdvice["now_assumed"] = {
    estimate_from: "combined",
    refill_method: "crop_p",
    value: 0.35,
    soil: [
      { top_mm: 0, bottom_mm: 300, texture: "loam", theta_full: 0.28, theta_wilt: 0.14, gravel: 0 },
    ],
    crop: {
      name: "Potato",
      planted_on: "2026-05-02",
      kc: [0.5, 1.15, 0.75],
      kcb: [0.15, 1.1, 0.65],
      surface: "grass",
      p: 0.35,
      tension_kpa: 40,
      root_mm: 500,
    },
    system: {
      kind: "pivot",
      rate_mm_h: 2.5,
      efficiency: 0.85,
      smallest_mm: 8,
      largest_mm: null,
    },
    et0_mm: [5.2, 5.8, 6.4],
    et0_source: "simulated forecast",
    et0_surface: "grass",
    forecast_et0_mm: [5.5, 6],
    forecast_rain_mm: [],
    alfalfa_ratio: null,
    rain_room_mm: 3,
    wetted_share: 1,
    intake_mm_h: 12,
    capillary_mm_day: 0,
    water_table_mm: 1200,
    wind_m_s: 3.2,
    rh_min: 31,
    little_and_often: false,
    leaching_share: 0,
    dual: true,
    ponded: null,
    leaf: null,
    deficit: null,
    cutting: null,
  };
  const advice: PastAdvice = {
    id: 9,
    block: "Quern Field",
    time_zone: "CET",
    day: "2026-07-11",
    made_at: "2026-07-11T04:10:00Z",
    version: "2026.11.2",
    same_rules: true,
    answer: given,
    inputs: {
      assumed,
      forecast_issued_at: "2026-07-11T02:00:00Z",
      weather_until: "2026-07-10",
      instruments: [
        { label: "Probe Q1", last_hours: -0.2 },
        { label: "Tensiometers", last_hours: null },
      ],
      sets: 25,
      newest_set_hours: -70,
      planned: 1,
      holds: 0,
    },
    working: { steps: [], layers: [], balance: [], days: [], refill_methods: [], estimates: [] },
    decisions: row.decisions,
    now_says: given,
    now_assumed: assumed,
  };
  const key = ["farm", "f", "block", 3, "advice", 9];
  const here = { pattern: ":farm/blocks/:block/history/:advice", path: "/f/blocks/3/history/9" };
  const said = (over: Partial<PastAdvice> = {}) =>
    text(<PastAdvicePage />, "metric", true, [[key, { ...advice, ...over }]], here);

  it("tells what was at hand", () => {
    const words = said();
    expect(words).toContain("Quern Field, Sat 11 July 06:10");
    expect(words).toContain(
      "Probe Q1: 12 min before; Tensiometers: nothing; forecast of Sat 11 July 04:00",
    );
    expect(words).toContain("weather to 10 Jul 2026");
    expect(words).toContain("25 irrigations in two months, the last 3 d before; 1 scheduled.");
    expect(words).toContain("Adjusted, Maud: as the rota has it.");
  });

  it("tells what was assumed, and what today's records assume otherwise", () => {
    const words = said();
    expect(words).toContain("Today's records assume the same for that morning.");
    expect(words).toContain("0–30 cm loam 0.280/0.140");
    expect(words).toContain("Kcb 0.15 / 1.10 / 0.65 on grass ET");
    expect(words).toContain("from 8.0 mm, no maximum");
    expect(words).toContain("5.8 (5.2–6.4 mm/day), simulated forecast");
    expect(words).not.toContain("today:");
    const flat = { ...assumed, refill_method: "flat" as const, value: 0.5, dual: false };
    const changed = said({ now_assumed: flat });
    expect(changed).toContain("Refill point by crop's p today: fixed share");
    expect(changed).toContain("Refill point at 35 % today: 50 %");
    expect(changed).toContain("today: 0.50 / 1.15 / 0.75 on grass ET");
  });

  it("calls what an old advice did not keep unknown, not changed", () => {
    const old = {
      ...assumed,
      soil: [],
      crop: null,
      system: null,
      intake_mm_h: null,
      value: null,
      forecast_et0_mm: null,
      forecast_rain_mm: null,
    };
    const words = said({ inputs: { ...advice.inputs, assumed: old } });
    expect(words).toContain("Crop – ");
    expect(words).toContain("Refill point at – ");
    expect(words).toContain("Forecast rain by day – ");
    expect(words).not.toContain("today:");
  });

  it("sets what is known today beside what was said", () => {
    expect(said()).toContain("Nothing that became known since changes it. Rules 2026.11.2.");
    const now = anAnswer({
      state: "ok",
      deficit_mm: 4,
      start_at: null,
      amount: null,
      run: null,
    });
    const words = said({ now_says: now, same_rules: false });
    expect(words).toContain("State Irrigate now OK");
    expect(words).toContain("none in sight");
    expect(words).toContain("Deficit 9.9 mm 4.0 mm");
    expect(words).toContain("changes it. Rules 2026.11.2; they have changed since.");
  });
});
