import { describe, expect, it } from "vitest";
import { FarmTime, span } from "./farmTime";

const summer = new FarmTime("2026-07-14T04:10:00Z", "CET");

describe("farm time", () => {
  it("speaks in the farm's zone", () => {
    expect(summer.full(summer.now)).toBe("Tue 14 July 06:10");
    expect(summer.clock(summer.at(18.5))).toBe("00:40");
  });

  it("names near days by word and far ones by date", () => {
    expect(summer.day(summer.at(3))).toBe("today");
    expect(summer.day(summer.at(20))).toBe("tomorrow");
    expect(summer.day(summer.at(72))).toBe("Fri");
    expect(summer.day(summer.at(240))).toBe("24 July");
  });

  it("finds every local midnight", () => {
    const found = summer.midnights(-48, 48);
    expect(found).toHaveLength(4);
    for (const h of found) expect(summer.clock(summer.at(h))).toBe("00:00");
  });

  it("keeps midnights where clocks change", () => {
    // Summer time ends on 25 October 2026: that local day has 25 hours.
    const autumn = new FarmTime("2026-10-25T06:00:00Z", "CET");
    const found = autumn.midnights(-24, 48);
    expect(found.map((h) => autumn.clock(autumn.at(h)))).toEqual(["00:00", "00:00", "00:00"]);
    expect((found[1] ?? 0) - (found[0] ?? 0)).toBe(25);
  });
});

describe("span", () => {
  it("is short", () => {
    expect(span(16)).toBe("16 h");
    expect(span(64)).toBe("3 d");
    expect(span(1 / 6)).toBe("10 min");
    expect(span(0)).toBe("1 min");
  });
});
