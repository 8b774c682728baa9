// @vitest-environment jsdom
import { cleanup, screen, within } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { clicked } from "../testing/clicked";
import { FarmTime } from "../time/farmTime";
import type { Wetting } from "./queries";
import { WettingMarks } from "./WettingMarks";
import { Wettings } from "./Wettings";

afterEach(cleanup);

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");

const SENSOR = { arrived_after: null, arrived_by: null, wettest_at: null, rise: 0.001 };

/** An event of a day in July: 24 mm gross, of which 20 reached the ground. */
function event(day: number, changes: Partial<Wetting> = {}): Wetting {
  const on = (hour: string) => `2026-07-${String(day).padStart(2, "0")}T${hour}:00Z`;
  return {
    id: day,
    instrument_id: 1,
    instrument: "Probe Q1",
    began_after: on("05:45"),
    began_by: on("06:00"),
    settled_at: on("23:00"),
    is_over: true,
    sensors: [
      {
        depth_mm: 100,
        arrived_after: on("05:45"),
        arrived_by: on("06:00"),
        wettest_at: on("09:00"),
        rise: 0.05,
      },
      { depth_mm: 300, ...SENSOR },
      { depth_mm: 500, ...SENSOR, rise: null },
    ],
    reached_mm: 200,
    reached_low_mm: 100,
    reached_high_mm: 300,
    front_mm_h: null,
    root_mm: 400,
    stored_mm: 12,
    stored_sigma_mm: 2.5,
    irrigations: [{ id: 5, starts_at: on("04:00"), ends_at: on("08:00"), gross_mm: 24 }],
    rain_days: [],
    given_mm: 20,
    given_sigma_mm: 1.25,
    used_mm: 3,
    recovery: 0.75,
    recovery_sigma: 0.125,
    passed_mm: null,
    passed_sigma_mm: null,
    drained_at: null,
    drained_mm: 0,
    ...changes,
  };
}

const TEN = [...Array(10).keys()].map((k) => event(k + 1));

function Both({ wettings }: { wettings: Wetting[] }) {
  const [chosen, choose] = useState<number | null>(null);
  const both = {
    wettings,
    chosen,
    choose,
    time,
    units: "metric" as const,
    runHours: null,
    roots: null,
  };
  return (
    <>
      <svg>
        <WettingMarks {...both} x={(h) => h} y={(mm) => mm} />
      </svg>
      <Wettings {...both} />
    </>
  );
}

const fact = (name: string) => {
  const row = screen.getByRole("rowheader", { name }).closest("tr") as HTMLElement;
  return within(row)
    .getAllByRole("cell")
    .map((cell) => cell.textContent);
};

test("an event is chosen on the drawing, and its figures are told", async () => {
  const { user } = clicked(<Both wettings={TEN} />);
  const mark = screen.getByRole("button", {
    name: "Wetting event of Fri July 10 08:00: reached 20 cm",
  });
  await user.click(mark);
  expect(mark.getAttribute("aria-pressed")).toBe("true");
  expect(fact("Came from")).toEqual(["Fri July 10 06:00 – 10:00, 24.0 mm"]);
  expect(fact("Applied")).toEqual(["20.0 mm ± 1.6"]);
  expect(fact("Depth reached")).toEqual(["20 cm, between 10 and 30 cm"]);
  expect(fact("Change in soil water")).toEqual(["12.0 mm ± 3.2, by Sat July 11 01:00"]);
  expect(fact("Found again")).toEqual(["15.0 mm, 75 % ± 16"]);
  expect(fact("Passed the roots")).toEqual(["–"]);
  expect(fact("Drained until")).toEqual(["not seen to end"]);
  expect(fact("Rise by sensor")[0]).toContain("no answer");
  expect(fact("Rise by sensor")[0]).toContain("not known");
  await user.click(mark);
  expect(screen.queryByRole("rowheader")).toBeNull();
});

test("by keyboard, and on to the event before and after", async () => {
  const { user } = clicked(<Both wettings={TEN} />);
  screen.getByRole("button", { name: /event of Fri July 10/ }).focus();
  await user.keyboard("{Enter}");
  expect(fact("Began")).toEqual(["Fri July 10 08:00"]);
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Next event" }).disabled).toBe(true);
  await user.click(screen.getByRole("button", { name: "Previous event" }));
  expect(fact("Began")).toEqual(["Thu July 9 08:00"]);
  await user.click(screen.getByRole("button", { name: "Close" }));
  expect(screen.queryByRole("rowheader")).toBeNull();
});

test("two events side by side", async () => {
  const deep = event(3, { reached_high_mm: null, reached_low_mm: 500, reached_mm: 500 });
  const { user } = clicked(<Both wettings={[deep, ...TEN.slice(5)]} />);
  await user.click(screen.getByRole("button", { name: "Fri July 10 08:00" }));
  await user.selectOptions(screen.getByLabelText("Compare with"), "3");
  expect(fact("Depth reached")).toEqual([
    "20 cm, between 10 and 30 cm",
    "below 50 cm, past the deepest sensor",
  ]);
});

const rows = () => screen.getAllByRole("button", { name: /^\w+ July \d+ \d\d:\d\d$/ });

test("the newest are shown first, and all on demand", async () => {
  const { user } = clicked(<Both wettings={TEN} />);
  expect(rows()).toHaveLength(6);
  await user.click(screen.getByRole("button", { name: "Show all 10 events" }));
  expect(rows()).toHaveLength(10);
  expect(rows()[0]?.textContent).toBe("Fri July 10 08:00");
});

test("what nobody logged, what rain brought, and what may still change", async () => {
  const nothing = { irrigations: [], given_mm: null, recovery: null };
  const open = event(4, { ...nothing, is_over: false });
  const rain = event(5, { ...nothing, rain_days: ["2026-07-05"] });
  const both = event(6, { rain_days: ["2026-07-06"] });
  const { user } = clicked(<Both wettings={[open, rain, both]} />);
  expect(screen.getByText("Nothing logged")).toBeTruthy();
  expect(screen.getByText("Rain")).toBeTruthy();
  expect(screen.getByText("Irrigation and rain")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Sat July 4 08:00" }));
  expect(screen.getByText("May still change: newer readings will tell.")).toBeTruthy();
  expect(fact("Came from")).toEqual(["Nothing logged"]);
  expect(fact("Found again")).toEqual(["15.0 mm"]);
  await user.click(screen.getByRole("button", { name: "Mon July 6 08:00" }));
  expect(fact("Came from")).toEqual(["Mon July 6 06:00 – 10:00, 24.0 mm; rain on Jul 6, 2026"]);
});

test("no event yet says what makes one", () => {
  clicked(<Both wettings={[]} />);
  expect(screen.getByText(/No wetting event has been seen yet/)).toBeTruthy();
});
