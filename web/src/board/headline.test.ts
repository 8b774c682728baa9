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
    const rows = [row({ state: "below_refill" }), row({ state: "irrigate_now" }), row({})];
    expect(headline(rows)).toBe("2 blocks need irrigation within a day; 1 is late.");
    expect(hoursDue(rows)).toBeCloseTo(22.8);
  });
  it("is calm when nothing is due", () => {
    expect(headline([row({})])).toBe("Nothing is due in the next three days.");
    expect(headline([row({}), row({ state: "no_reliable_data" })])).toBe(
      "Nothing is due in the next three days; 1 block has no reliable data.",
    );
    expect(headline([row({ state: "irrigate_soon" })])).toBe("Nothing is due today.");
  });
});
