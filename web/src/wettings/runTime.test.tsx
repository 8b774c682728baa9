import { expect, test } from "vitest";
import { shown } from "../testing/shown";
import type { RunHours } from "./queries";
import { RunTime, RunTimeLine } from "./RunTime";

const RUN_HOURS: RunHours = {
  irrigations: [1, 2, 3, 4],
  habit_hours: 12,
  habit_net_mm: 40,
  habit_gross_mm: 48,
  reached_mm: 700,
  passed_mm: 11.2,
  enough: [{ root_mm: 400, low: 6 + 1 / 3, likely: 7 + 1 / 6, high: 8, gross_mm: 28.7 }],
};

const said = (runHours: RunHours) =>
  shown(<RunTime runHours={runHours} units="metric" />, "metric")
    .replaceAll(/<[^>]*>/g, " ")
    .replaceAll(/\s+/g, " ")
    .trim();

test("irrigations that went too deep", () => {
  expect(said(RUN_HOURS)).toBe(
    "Run time The last 4 irrigations of 12 h (48.0 mm gross) came to 70 cm; roots are at 40 cm. " +
      "On average 11.2 mm of each passed the roots. " +
      "7 h 10 (6 h 20 – 8 h), 28.7 mm gross, would have wetted the roots.",
  );
});

test("irrigations that ended above the roots", () => {
  const [now] = RUN_HOURS.enough;
  const short = {
    ...RUN_HOURS,
    habit_hours: 5,
    reached_mm: 300,
    passed_mm: 0,
    enough: now ? [now] : [],
  };
  expect(said(short)).toMatch(/came to 30 cm; .*7 h 10 .* would wet the roots\.$/);
  expect(said(short)).not.toContain("passed the roots");
});

test("nobody knows how much more deep roots take", () => {
  const enough = [{ root_mm: 900, low: 9.5, likely: 14, high: null, gross_mm: 56 }];
  expect(said({ ...RUN_HOURS, enough })).toContain(
    "At least 9 h 30 would wet the roots; no irrigation went deep enough to tell how much more.",
  );
});

test("past the deepest sensor, and roots that will be deeper", () => {
  const deeper = { root_mm: 600, low: 9, likely: 10, high: null, gross_mm: 40 };
  const then = { root_mm: 500, low: 8, likely: 9, high: 10, gross_mm: 36 };
  const text = said({
    ...RUN_HOURS,
    reached_mm: null,
    enough: [...RUN_HOURS.enough, then, deeper],
  });
  expect(text).toContain("went past the deepest sensor");
  expect(text).toContain("Once roots are at 50 cm: 9 h (8 h – 10 h).");
  expect(text).toContain("Once roots are at 60 cm: at least 9 h.");
});

const line = (runHours: RunHours) =>
  shown(<RunTimeLine runHours={runHours} units="metric" use={() => undefined} />, "metric");

test("beside the hours of an irrigation that is being scheduled", () => {
  expect(line(RUN_HOURS)).toContain("would have wetted the roots");
  expect(line(RUN_HOURS)).toContain(">Set 7 h 10</button>");
  const open = {
    ...RUN_HOURS,
    enough: [{ root_mm: 900, low: 9, likely: 14, high: null, gross_mm: 5 }],
  };
  expect(line(open)).not.toContain("<button");
  expect(line({ ...RUN_HOURS, enough: [] })).not.toContain("irrigations");
});
