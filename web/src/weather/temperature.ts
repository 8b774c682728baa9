import { number, type UnitSystem } from "../units/format";

export function temperatureUnit(units: UnitSystem): string {
  return units === "us" ? "°F" : "°C";
}

/** A temperature in the person's unit. */
export function temperature(degrees: number | null | undefined, units: UnitSystem): string {
  if (degrees === null || degrees === undefined) return number(null, 1);
  return number(units === "us" ? degrees * 1.8 + 32 : degrees, 1);
}

/** From what a person typed to degrees Celsius; null when it is no number. */
export function celsius(text: string, units: UnitSystem): number | null {
  const cleaned = text.trim().replace(",", ".").replace("−", "-");
  const value = Number(cleaned);
  if (cleaned === "" || !Number.isFinite(value)) return null;
  return units === "us" ? (value - 32) / 1.8 : value;
}
