import type { Schemas } from "../api/client";

export type School = Schemas["School"];
export type Stage = Schemas["Stage"];

export const SCHOOL_NAMES: Record<School, string> = {
  crop_p: "crop's p",
  flat: "flat share",
  tension: "tension limit",
};

export const STAGES: Stage[] = ["initial", "development", "mid season", "late season"];

/** What a school starts from, as the person types it and as the server takes it. */
export function valueIn(school: School, text: string): number | null {
  const cleaned = text.trim().replace(",", ".");
  if (cleaned === "" || !Number.isFinite(Number(cleaned))) return null;
  return school === "tension" ? Number(cleaned) : Number(cleaned) / 100;
}

export function valueSaid(school: School, value: number | null): string {
  if (value === null) return "the crop's own";
  return school === "tension" ? `${value} kPa` : `${Math.round(value * 1000) / 10} %`;
}
