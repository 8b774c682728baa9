import type { Schemas } from "../api/client";
import { t } from "./t";

export type School = Schemas["School"];
export type Stage = Schemas["Stage"];

export const SCHOOL_NAMES: Record<School, string> = {
  crop_p: t("limits.cropsP"),
  flat: t("limits.fixedShare"),
  tension: t("limits.tensionLimit"),
};

export const STAGES: Stage[] = ["initial", "development", "mid season", "late season"];

/** What a school starts from, as the person types it and as the server takes it. */
export function valueIn(school: School, text: string): number | null {
  const cleaned = text.trim().replace(",", ".");
  if (cleaned === "" || !Number.isFinite(Number(cleaned))) return null;
  return school === "tension" ? Number(cleaned) : Number(cleaned) / 100;
}

export function valueSaid(school: School, value: number | null): string {
  if (value === null) return t("limits.theCropsOwn");
  return school === "tension" ? t("limits.kpa", { value }) : `${Math.round(value * 1000) / 10} %`;
}
