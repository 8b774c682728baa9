import { describe, expect, test } from "vitest";
import { aSheet } from "../testing/runSheet";
import { text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { SheetHead } from "./SheetHead";
import type { RunSheetData, SheetData } from "./queries";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");

const head = (more: Partial<SheetData>) => {
  const sheet = { ...aSheet({}), ...more };
  const data: RunSheetData = {
    now: "2026-07-14T04:10:00Z",
    time_zone: "CET",
    planning: false,
    failed: null,
    sheet,
    proposal: null,
    announced: null,
    alarms: [],
  };
  return text(
    <SheetHead data={data} sheet={sheet} time={time} units="metric">
      {null}
    </SheetHead>,
  );
};

describe("the head of the run sheet", () => {
  test("how far the plan may be from the best, in money and in per cent", () => {
    // 104 beside a bound of 102.
    expect(head({})).toContain("at most € 2.00 (1.9 %) above the best possible plan");
  });

  test("the highest draw of the month so far, where it has a price", () => {
    expect(head({})).not.toContain("highest draw");
    const sources = aSheet({}).sources.map((s, k) => ({
      ...s,
      peak_price: k === 0 ? 7.5 : 0,
      peak_so_far_kw: 61.6,
    }));
    expect(head({ sources })).toContain("highest draw this month so far North bore 62 kW");
  });
});
