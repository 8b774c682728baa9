import type { FarmTime } from "../time/farmTime";
import { t } from "./t";

/** When refill is reached, in words; `days` from now, null where it is out of sight. */
export function refillDay(days: number | null, time: FarmTime): string {
  if (days === null) return t("block.inMoreThanAMonth");
  return days === 0 ? t("block.now") : time.day(time.at(days * 24));
}
