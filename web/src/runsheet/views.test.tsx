import { describe, expect, test } from "vitest";
import { aSet, aSheet } from "../testing/runSheet";
import { text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { SheetHead } from "./SheetHead";
import { SetPanel } from "./SetPanel";
import { LateStarts, ShortList } from "./SheetNotes";
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
    expect(head({})).toContain("at most € 2.00 (1.9 %) above the lowest possible cost");
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

const late = (begin_by: string | null, first_on: string | null) =>
  text(
    <LateStarts sheet={aSheet({ late_starts: [{ source: "North bore", begin_by, first_on }] })} />,
  );

describe("what is shown beneath the run sheet", () => {
  test("a source that begins too late, or with nothing", () => {
    expect(late("2026-07-18", "2026-07-21")).toContain("must begin by 18 Jul 2026");
    expect(late("2026-07-18", "2026-07-21")).toContain("it begins on 21 Jul 2026");
    expect(late("2026-07-18", null)).toContain("nothing is planned from it");
    expect(late(null, null)).toContain("too late");
  });

  test("longer hours, another of a group, and pulses", () => {
    const sheet = aSheet({
      short: [{ block_id: 7, lacking_mm: 3, money: 80 }],
      outcome: {
        ...aSheet({}).outcome,
        reliefs: [
          { kind: "hours", name: "North bore", more: 2, money: 41, on: null },
          { kind: "group", name: "Hill filter", more: 1, money: 12, on: null },
          { kind: "people", name: "", more: 1, money: 9, on: "2026-07-14" },
        ],
      },
    });
    const shown = text(<ShortList sheet={sheet} units="metric" />);
    expect(shown).toContain("North bore for 2 h longer each time it runs (€ 41)");
    expect(shown).toContain("one more block of Hill filter at a time (€ 12.00)");
    expect(shown).toContain("another person on 14 Jul 2026 (€ 9.00)");
    const pulsed = aSet({ hours: 7, pulses: 3, pause_hours: 1 });
    const panel = text(
      <SetPanel
        sheet={aSheet({ sets: [pulsed] })}
        set={pulsed}
        time={time}
        why={undefined}
        change={() => undefined}
        saving={false}
        mayChange
      />,
    );
    expect(panel).toContain("In 3 pulses of 1 h 40 with 1 h between");
  });
});
