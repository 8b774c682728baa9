import { expect, test } from "vitest";
import { FarmTime } from "../time/farmTime";
import type { Finding } from "./queries";
import { costWords, evidenceFigure, placeWords, seenWords, typicalWords } from "./words";

const FINDING: Finding = {
  id: 1,
  block_id: 2,
  block: "Low Ings",
  instrument_id: null,
  instrument: "",
  depth_mm: null,
  cause: "not_logged",
  group: "application",
  name: "Water that nobody logged",
  seen: "s",
  check: "c",
  changes: "g",
  figure: "water",
  typical_seen: 39.4,
  typical_expected: 0,
  likelihood: 0.8,
  cost_mm_week: 13.1,
  cost_m3_week: 1551,
  stress_days_week: null,
  first_at: "2026-07-04T17:00:00Z",
  last_at: "2026-07-05T10:00:00Z",
  lapsed_at: null,
  status: "open",
  until: null,
  evidence: [],
  decisions: [],
  earlier: [],
};

test("each figure in the person's unit", () => {
  expect(evidenceFigure("water", 25.4, "metric")).toBe("25.4 mm");
  expect(evidenceFigure("water", 25.4, "us")).toBe("1.00 in");
  expect(evidenceFigure("share", 0.62, "metric")).toBe("62 %");
  expect(evidenceFigure("content", 0.237, "metric")).toBe("0.237 m³/m³");
  expect(evidenceFigure("tension", 12, "metric")).toBe("12 kPa");
  expect(evidenceFigure("depth", 250, "metric")).toBe("25 cm");
  expect(evidenceFigure("hours", 7.25, "metric")).toBe("7.3 h");
  expect(evidenceFigure("speed", 400, "metric")).toBe("40 cm an hour");
  expect(evidenceFigure("rate", 5.25, "metric")).toBe("5.3 mm/day");
  expect(evidenceFigure("water", null, "metric")).toBe("–");
});

test("where it is", () => {
  expect(placeWords(FINDING, "metric")).toBe("whole block");
  expect(placeWords({ instrument: "Probe Q1", depth_mm: null }, "metric")).toBe("Probe Q1");
  expect(placeWords({ instrument: "Probe Q1", depth_mm: 300 }, "us")).toBe("Probe Q1, 11.8 in");
});

test("what a week costs", () => {
  expect(costWords(FINDING, "metric")).toBe("13.1 mm a week (1,551 m³)");
  const unknown = { ...FINDING, cost_mm_week: null, cost_m3_week: null };
  expect(costWords(unknown, "metric")).toBe("cost not known");
  expect(costWords({ ...unknown, stress_days_week: 7 }, "metric")).toBe("7 days of stress a week");
});

test("the middle of its evidence, where something else was to be expected", () => {
  expect(typicalWords(FINDING, "metric")).toBe(
    "Typically: water found 39.4 mm, where 0.0 mm was to be expected.",
  );
  expect(typicalWords({ ...FINDING, typical_expected: null }, "metric")).toBe("");
});

test("since when, and whether it still is", () => {
  const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
  expect(seenWords(FINDING, time)).toBe("since 4 July, last seen 5 July");
  expect(seenWords({ ...FINDING, lapsed_at: "2026-07-10T04:00:00Z" }, time)).toBe(
    "since 4 July, no longer seen since 10 July",
  );
});
