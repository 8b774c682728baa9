import { describe, expect, it } from "vitest";
import { anAnswer, aRow } from "../testing/answers";
import { shown, text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { Axis } from "./Axis";
import { Board } from "./Board";
import { BoardTools } from "./BoardTools";
import { EVERYTHING } from "./filter";
import { LineActions } from "./LineActions";
import type { BoardData, BoardRow } from "./queries";
import { Ribbon } from "./Ribbon";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const late = aRow({ id: 1, name: "Marl Pit", answer: anAnswer({ state: "below_refill" }) });
const calm = aRow({ id: 2, name: "Long Tye", supply: "River pump" });
const board: BoardData = {
  farm: "F",
  time_zone: "CET",
  now: "2026-07-14T04:10:00Z",
  simulated: true,
  et: { low: 5, expected: 5.8, high: 6.4, source: "simulated forecast" },
  alfalfa_ratio: null,
  rain: [],
  rain_ahead: [{ date: "2026-07-17", chance: 0.7, likely_mm: 4 }],
  rows: [
    late,
    aRow({ id: 3, name: "Wick", answer: anAnswer({ state: "irrigate_now" }) }),
    calm,
    aRow({ id: 4 }),
  ],
};
const known = (data: BoardData) => [[["farm", "f", "board"], data]] as [string[], BoardData][];

const acts = (row: BoardRow) => shown(<LineActions row={row} act={() => undefined} />);
const drawn = (row: BoardRow) =>
  shown(<Ribbon row={row} width={700} height={66} time={time} units="metric" />);

describe("the board", () => {
  it("says what is due, what it counts on, and offers to give it", () => {
    const said = text(<Board />, "metric", true, known(board));
    expect(said).toContain("2 blocks need irrigation within a day; 1 is late.");
    expect(said).toContain(
      "5.8 mm/day for the days ahead (5.0 to 6.4), simulated forecast; 4.0 mm of rain expected.",
    );
    expect(said).toContain("Schedule all 2 due…");
  });

  it("asks nothing of who may only look", () => {
    const markup = shown(<Board />, "metric", false, known(board));
    expect(markup).not.toContain("Schedule");
    expect(markup).not.toContain("Enter ET");
  });

  it("says what to do where there is no block", () => {
    const said = text(<Board />, "metric", true, known({ ...board, rows: [] }));
    expect(said).toContain("No blocks yet A block is a piece of land that is irrigated as one.");
  });

  it("says of one irrigation that it may be the last", () => {
    const last = aRow({ id: 5, answer: anAnswer({ reasons: ["may_be_the_last"] }) });
    const [said, other] = [last, calm].map((row) =>
      text(<Board />, "metric", true, known({ ...board, rows: [row] })),
    );
    expect(said).toContain("May be the last irrigation");
    expect(other).not.toContain("May be the last irrigation");
  });

  it("narrows down by what stands in its address", () => {
    const at = { pattern: "*", path: "/?only=supply:River%20pump" };
    const markup = shown(<Board />, "metric", true, known(board), at);
    expect(markup).toContain("Long Tye");
    expect(markup).not.toContain("Marl Pit");
    expect(markup).toContain("1 of 4 blocks");
  });
});

describe("what can be done with a line", () => {
  it("is to give what is due, and to say otherwise of anything", () => {
    expect(acts(late)).toContain('aria-label="Schedule irrigation for Marl Pit"');
    expect(acts(calm)).not.toContain("Give Long Tye");
    expect(acts(calm)).toContain('aria-label="Adjust or skip the irrigation of Long Tye"');
  });
  it("is to take back what was decided", () => {
    const decided = {
      id: 1,
      kind: "declined" as const,
      why: "wind" as const,
      reason: "",
      made_at: "2026-07-14T04:10:00Z",
      made_by: "Maud",
      set_id: null,
    };
    expect(acts(aRow({ decision: decided }))).toContain("Skipped ↺");
    expect(acts(aRow({ decision: { ...decided, kind: "changed" } }))).toContain("Scheduled ↺");
  });
});

describe("the drawing", () => {
  const ahead = [0, 1, 2].map((day) => ({
    day,
    dry_mm: 8 - 6 * day,
    usable_mm: 12 - 6 * day,
    wet_mm: 16 - 6 * day,
    raw_mm: 15,
    chance_past: 0.2 * day,
  }));
  const planned = {
    id: 1,
    status: "planned" as const,
    starts_at: "2026-07-15T00:10:00Z",
    ends_at: "2026-07-15T10:10:00Z",
    start_hours: 20,
    end_hours: 30,
    gross_mm: 12,
  };
  it("has a dashed box for what is proposed and a full one for what is planned", () => {
    const markup = drawn(aRow({ ahead, sets: [planned] }));
    expect(markup.match(/stroke-dasharray="5 3"/g)).toHaveLength(1);
    expect(markup).toContain('fill-opacity="0.14"');
    expect(markup).not.toContain("NaN");
    const none = drawn(aRow({ ahead, answer: anAnswer({ start_at: null, amount: null }) }));
    expect(none).not.toContain('stroke-dasharray="5 3"');
  });

  it("keeps what was given apart from what is only planned", () => {
    const done = { ...planned, id: 2, status: "done" as const, start_hours: -30, end_hours: -26 };
    expect(drawn(aRow({ ahead, sets: [done] }))).toContain(">12</text>");
    expect(drawn(aRow({ ahead, sets: [planned] }))).not.toContain(">12</text>");
  });

  it("names the chance of rain over its day", () => {
    const markup = shown(
      <Axis width={900} time={time} rain={[]} rainAhead={board.rain_ahead} units="metric" />,
    );
    expect(markup).toContain(">70 %</text>");
  });
});

describe("the board's tools", () => {
  it("offer each part's values once", () => {
    const rows = [late, calm, calm];
    const markup = shown(
      <BoardTools rows={rows} shown={2} wanted={EVERYTHING} change={() => undefined} />,
    );
    expect(markup.match(/value="supply:River pump"/g)).toHaveLength(1);
    expect(markup).toContain("2 of 3 blocks");
  });
});
