import type { Schemas } from "../api/client";
import { t } from "./t";

export type RefillMethod = Schemas["RefillMethod"];
export type Stage = Schemas["Stage"];

export const REFILL_METHOD_NAMES: Record<RefillMethod, string> = {
  crop_p: t("limits.cropsP"),
  flat: t("limits.fixedShare"),
  tension: t("limits.tensionLimit"),
};

export const STAGES: Stage[] = ["initial", "development", "mid season", "late season"];

/** What a method starts from, as the person types it and as the server takes it. */
export function valueIn(method: RefillMethod, text: string): number | null {
  const cleaned = text.trim().replace(",", ".");
  if (cleaned === "" || !Number.isFinite(Number(cleaned))) return null;
  return method === "tension" ? Number(cleaned) : Number(cleaned) / 100;
}

export function valueSaid(method: RefillMethod, value: number | null): string {
  if (value === null) return t("limits.theCropsOwn");
  return method === "tension" ? t("limits.kpa", { value }) : `${Math.round(value * 1000) / 10} %`;
}
