import { describe, expect, it } from "vitest";
import type { Answer } from "../answer/types";
import { anAnswer, aRow } from "../testing/answers";
import { headline, hoursDue } from "./headline";
import type { BoardRow } from "./queries";

function row(over: Partial<Answer>): BoardRow {
  return aRow({ answer: anAnswer(over) });
}

describe("the headline", () => {
  it("counts what is due and late", () => {
    const rows = [row({ state: "past_refill" }), row({ state: "water_now" }), row({})];
    expect(headline(rows)).toBe("2 blocks want water within a day; 1 is late.");
    expect(hoursDue(rows)).toBeCloseTo(22.8);
  });
  it("is calm when nothing is due", () => {
    expect(headline([row({})])).toBe("Nothing is due in three days.");
    expect(headline([row({}), row({ state: "no_word" })])).toBe(
      "Nothing is due in three days; 1 without a word.",
    );
    expect(headline([row({ state: "water_soon" })])).toBe("Nothing is due today.");
  });
});
