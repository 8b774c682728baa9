import { describe, expect, it } from "vitest";
import { partFrom, textsOf } from "./partForm";

const bore = {
  id: 3,
  name: "North bore",
  flow_m3_h: 400,
  smallest_m3_h: null,
  from_hour: 22,
  to_hour: 6.5,
  turn: null,
  day_m3: 5200,
  season_m3: null,
  season_from: null,
  kwh_m3: null,
  head_m: 62,
  efficiency: 0.64,
  water_price: 0.012,
  tariff: "Farm power",
};

describe("a source in its form", () => {
  it("is shown, and comes back as it was", () => {
    const texts = textsOf("sources", bore, "metric");
    expect(texts).toMatchObject({
      name: "North bore",
      flow_m3_h: "400",
      from_hour: "22:00",
      to_hour: "06:30",
      efficiency: "64",
      head_m: "62",
      season_from: "",
      "turn.hours": "",
    });
    expect(partFrom("sources", texts, bore, "metric")).toEqual({ value: bore });
    expect(partFrom("sources", textsOf("sources", bore, "us"), bore, "us")).toEqual({
      value: bore,
    });
  });
  it("takes what was entered, and what is empty as not limited", () => {
    const texts = { ...textsOf("sources", null, "metric"), name: " Ditch ", flow_m3_h: "430,5" };
    const made = partFrom("sources", texts, null, "metric");
    expect(made).toMatchObject({
      value: { name: "Ditch", flow_m3_h: 430.5, day_m3: null, water_price: 0, to_hour: 24 },
    });
  });
  it("names what can't be read, and what is missing of a turn", () => {
    const texts = { ...textsOf("sources", bore, "metric"), flow_m3_h: "lots", to_hour: "late" };
    expect(partFrom("sources", texts, bore, "metric")).toEqual({
      unreadable: ["flow_m3_h", "to_hour"],
    });
    const turn = { ...textsOf("sources", bore, "metric"), "turn.hours": "12" };
    expect(partFrom("sources", turn, bore, "metric")).toEqual({
      unreadable: ["turn.first_at", "turn.every_days"],
    });
  });
  it("keeps a person's weekdays", () => {
    const tam = { name: "Tam", from_hour: 6, to_hour: 20, weekdays: [0, 1, 5], starts: 3 };
    const texts = textsOf("workers", tam, "metric");
    expect(texts["weekdays"]).toBe("015");
    expect(partFrom("workers", texts, tam, "metric")).toEqual({ value: tam });
    expect(textsOf("workers", null, "metric")["weekdays"]).toBe("0123456");
  });
});
