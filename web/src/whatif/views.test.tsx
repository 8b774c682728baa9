import { describe, expect, it } from "vitest";
import type { BlockData } from "../block/queries";
import { anAnswer } from "../testing/answers";
import { shown, text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { asItIs, whatIfIn } from "./assumed";
import WhatIf from "./WhatIf";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const block = {
  id: 4,
  name: "Quern Field",
  answer: anAnswer({ state: "irrigate_now" }),
  decision: null,
  stages: [{ key: "bulking", name: "tuber bulking" }],
  sets: [],
  past: [],
  ahead: [],
} as unknown as BlockData;

describe("what if", () => {
  const start = asItIs(block, time.hoursTo("2026-07-17T14:00:00Z"));
  const key = ["farm", "f", "block", 4, "what-if", whatIfIn(start, "metric")];
  const found = {
    answer: anAnswer({ state: "ok", drained_mm: 3.2 }),
    ahead: [],
    raw_mm: 15.9,
    taw_mm: 56,
  };

  it("says what would be, and what it is reckoned from", () => {
    const said = text(<WhatIf block={block} time={time} />, "metric", true, [[key, found]]);
    expect(said).toContain("OK until Fri");
    expect(said).toContain("3.2 mm drains below the roots · RAW 15.9 mm");
    expect(said).toContain("tuber bulking");
    expect(said).not.toContain("As it is");
  });

  it("can be moved by the keyboard, each handle told in words", () => {
    const markup = shown(<WhatIf block={block} time={time} />, "us", true, [[key, found]]);
    expect(markup.match(/role="slider"/g)).toHaveLength(5);
    expect(markup).toContain('aria-valuetext="100 %"');
    expect(markup).toContain('aria-valuetext="0.39 in"');
  });
});
