import { describe, expect, it, test } from "vitest";
import { isDay, readDay, shownDay } from "./enteredDate";
import { readTime } from "./enteredTime";

describe("a day that is typed", () => {
  test.each([
    ["2026-07-14", "2026-07-14"],
    ["14 Jul", "2026-07-14"],
    ["14 July 2025", "2025-07-14"],
    ["july 14, 2025", "2025-07-14"],
    ["2025 Jul 4", "2025-07-04"],
    ["4.7.", "2026-07-04"],
    ["04/07/25", "2025-07-04"],
    ["4-7-2025", "2025-07-04"],
    ["29 Feb 2024", "2024-02-29"],
  ])("%s", (text, day) => {
    expect(readDay(text, 2026, "en-GB")).toBe(day);
  });

  it("is read in the order that people write it in", () => {
    expect(readDay("7/4/26", 2026, "en-US")).toBe("2026-07-04");
    expect(readDay("26/7/4", 2026, "en-CA")).toBe("2026-07-04");
    expect(readDay("4. Juli", 2026, "de")).toBe("2026-07-04");
  });

  test.each(["", "soon", "31 June", "29 Feb 2026", "14", "Ju 14", "1 2 3 4", "14 Jul at 6", "0/0"])(
    "%s is none",
    (text) => {
      expect(readDay(text, 2026, "en-GB")).toBeNull();
    },
  );

  it("is shown as people write it, and left as it is where it is none", () => {
    expect(shownDay("2026-07-04", "en-GB")).toBe("4 Jul 2026");
    expect(shownDay("2026-07-04", "en-US")).toBe("Jul 4, 2026");
    expect(shownDay("soon", "en-GB")).toBe("soon");
    expect(isDay("2026-02-30")).toBe(false);
  });
});

describe("a time that is typed", () => {
  test.each([
    ["06:10", "06:10"],
    ["6:10", "06:10"],
    ["6.10", "06:10"],
    ["610", "06:10"],
    ["0610", "06:10"],
    ["18", "18:00"],
    ["6", "06:00"],
    ["00:00", "00:00"],
    ["23:59", "23:59"],
  ])("%s", (text, time) => {
    expect(readTime(text)).toBe(time);
  });

  test.each(["", "24:00", "6:60", "99", "6:1", "noon", "12345"])("%s is none", (text) => {
    expect(readTime(text)).toBeNull();
  });
});
