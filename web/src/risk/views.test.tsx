import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import type { AtRisk } from "./queries";
import { YieldAtRisk } from "./YieldAtRisk";

const risk: AtRisk = {
  window: { name: "flowering", ky: 1.5, starts_on: "2026-07-14", ends_on: "2026-07-23" },
  next_window: {
    name: "yield formation",
    ky: 0.5,
    starts_on: "2026-07-23",
    ends_on: "2026-08-20",
  },
  stress_day_share: 0.052,
  practice_share: 0.09,
  delay_mm: 0.9,
  delay_share: 0.0061,
  rest_days: 70,
  rest_use_mm: 388.4,
  rest_need_mm: 240,
};
const block = { id: 3, area_m2: 380_000 };
const shown = (over: Partial<AtRisk> = {}, value: number | null = 50_000) =>
  text(<YieldAtRisk block={block} risk={{ ...risk, ...over }} />, "metric", true, [
    [["farm", "f", "block", 3, "yield-value"], { value, currency: "€" }],
  ]);

describe("yield at risk", () => {
  it("has its windows, the cost of a day, and the water to the end", () => {
    const words = shown();
    expect(words).toContain("Window now flowering, until 23 Jul 2026 (Ky 1.50)");
    expect(words).toContain("Next window yield formation, from 23 Jul 2026 (Ky 0.50)");
    expect(words).toContain("A day without any water left 5.2 % of yield, € 2,600");
    expect(words).toContain("Usually assumed for a day of stress up to 9 %");
    expect(words).toContain("0.6 % of yield, € 305");
    // 240 mm on 38 ha.
    expect(words).toContain("240 mm net, 91,200 m³");
  });

  it("says where a figure is not known", () => {
    const words = shown(
      {
        window: null,
        next_window: null,
        stress_day_share: null,
        practice_share: null,
        delay_mm: null,
      },
      null,
    );
    expect(words).toContain("not known: no Ky for this crop");
    expect(words).toContain("no irrigation in sight");
    expect(words).toContain("Price the crop under Irrigation, Water supply");
    expect(shown({ delay_share: 0.0001 })).toContain("next to nothing");
  });
});
