import { describe, expect, it } from "vitest";
import { text } from "../testing/shown";
import { celsius, temperature } from "./temperature";
import { WeatherPage } from "./WeatherPage";
import type { WeatherData } from "./queries";

describe("temperatures", () => {
  it("turn both ways", () => {
    expect(temperature(20, "metric")).toBe("20.0");
    expect(temperature(20, "us")).toBe("68.0");
    expect(temperature(null, "us")).toBe("–");
    expect(celsius("68", "us")).toBeCloseTo(20);
    expect(celsius(" −3,5 ", "metric")).toBeCloseTo(-3.5);
    expect(celsius("warm", "metric")).toBeNull();
  });
});

const weather: WeatherData = {
  now: "2026-07-14T04:10:00Z",
  time_zone: "CET",
  station: { latitude: null, longitude: null, elevation_m: null },
  days: [
    {
      date: "2026-07-13",
      source: "rain gauge, by hand",
      et_method: "",
      et0_mm: null,
      rain_mm: 3.5,
    },
  ],
  ahead: [],
  ahead_source: "",
};

describe("the weather's page", () => {
  const key = ["farm", "f", "weather", 30];
  it("shows unknown as unknown, and what is missing", () => {
    const said = text(<WeatherPage />, "metric", true, [[key, weather]]);
    expect(said).toContain("There is no forecast");
    expect(said).toContain("Mon 13 July – 3.5 – – – rain gauge, by hand Change");
    expect(said).toContain("Enter the position of the station");
  });

  it("shows the days ahead with their range", () => {
    const day = {
      date: "2026-07-15",
      et0_mm: 6,
      et0_low_mm: 5,
      et0_high_mm: 7,
      rain_chance: 0.6,
      rain_likely_mm: 3,
      rain_high_mm: 12.2,
    };
    const ahead = { ...weather, ahead: [day], ahead_source: "simulated forecast" };
    const said = text(<WeatherPage />, "us", false, [[key, ahead]]);
    expect(said).toContain("Wed 15 0.24 60 % to 0.48 in");
    expect(said).not.toContain("Change");
  });
});
