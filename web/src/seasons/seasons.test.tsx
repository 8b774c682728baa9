import { expect, test } from "vitest";
import { shown, text } from "../testing/shown";
import { laid, months } from "./laid";
import type { Course } from "./queries";
import { SeasonsPlot } from "./SeasonsPlot";
import { SeasonSums } from "./SeasonSums";
import { courseName } from "./words";

const course: Course = {
  block: "Long Tye",
  season_id: 1,
  crop: "Maize",
  planted_on: "2026-04-22",
  first: "2026-04-24",
  last: "2026-04-26",
  is_over: false,
  depletion_mm: [0, null, 20],
  taw_mm: [100, 100, 80],
  raw_mm: [50, 50, 40],
  degree_days: [5, 11, 18.5],
  totals: {
    rain_mm: [2, 2, 12.34],
    irrigations: [0, 1, 3],
    irrigation_gross_mm: [0, 20, 60],
    used_mm: [5, 10, 80],
    drained_mm: [0, 0, 4],
    below_refill_days: [0, 0, 2],
    wettings: [0, 1, 7],
    passed_mm: [null, null, null],
  },
};

test("a day stands where its date, its age or its warmth is", () => {
  // 24 April is the 114th day of the year, counted from 1: 113 days after New Year.
  expect(laid(course, "date").map((p) => p?.x)).toEqual([113, undefined, 115]);
  expect(laid(course, "days").map((p) => p?.x)).toEqual([2, undefined, 4]);
  expect(laid(course, "warmth")[2]).toEqual({ x: 18.5, left: 75, refill: 50 });
});

test("what is not known is not drawn", () => {
  expect(laid(course, "date")[1]).toBeNull();
  expect(laid({ ...course, degree_days: null }, "warmth")).toEqual([null, null, null]);
  expect(laid({ ...course, taw_mm: [0, 100, 80] }, "date")[0]).toBeNull();
});

test("a season that runs on into the next year", () => {
  const winter = { ...course, planted_on: "2025-10-01", first: "2026-01-05" };
  expect(laid(winter, "date")[0]?.x).toBe(369);
  expect(months(360, 400).map((m) => m.date)).toEqual(["2026-01-01", "2026-02-01"]);
});

test("its name says how far it goes while it grows", () => {
  expect(courseName(course)).toMatch(/^Maize 2026, to 26/);
  expect(courseName({ ...course, is_over: true })).toBe("Maize 2026");
});

test("both are drawn with their refill points", () => {
  const plot = shown(
    <SeasonsPlot courses={[course, { ...course, season_id: 2 }]} by="date" width={500} />,
  );
  expect(plot.match(/<path/g)).toHaveLength(4);
  expect(plot).toContain("Available water left through 2 seasons");
});

test("sums stand side by side, unknown as unknown", () => {
  const said = shown(<SeasonSums courses={[course]} units="metric" alike={false} />).replaceAll(
    /<[^>]*>+/g,
    " ",
  );
  expect(said).toMatch(/Rain\s+12\.3 mm/);
  expect(said).toMatch(/Days below refill\s+2\s/);
  expect(said).toMatch(/Passed the roots, by wetting events\s+–/);
  expect(text(shown(<SeasonSums courses={[course]} units="us" alike={false} />, "us"))).toContain(
    "0.49",
  );
});

test("of seasons of which one still grows, as many days of each", () => {
  const short = { ...course, season_id: 2, depletion_mm: [0, 1] };
  const said = (alike: boolean) =>
    shown(<SeasonSums courses={[course, short]} units="metric" alike={alike} />).replaceAll(
      /<[^>]*>+/g,
      " ",
    );
  expect(said(true)).toMatch(/Days\s+2\s+2\s+Rain\s+2\.0 mm\s+2\.0 mm/);
  expect(said(true)).toContain("Sums of the first 2 days known of each");
  expect(said(false)).toMatch(/Days\s+3\s+2\s+Rain\s+12\.3 mm\s+2\.0 mm/);
});
