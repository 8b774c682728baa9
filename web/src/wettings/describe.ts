/* Wetting events in words and figures, as the table and the facts of one show them. */

import type { FarmTime } from "../time/farmTime";
import { figure, measure, number, UNKNOWN, withUnit, type UnitSystem } from "../units/format";
import type { Wetting } from "./queries";
import { t } from "./t";

/* Of a spread, what holds in eight of ten cases. */
const EIGHT_OF_TEN = 1.28;

/** Half-way between the last reading before and the first one after. */
export function middle(after: string, by: string): Date {
  return new Date((new Date(after).getTime() + new Date(by).getTime()) / 2);
}

export function began(wetting: Wetting, time: FarmTime): string {
  return time.full(new Date(wetting.began_by));
}

/** Where the water came from, in a word. */
export function source(wetting: Wetting): string {
  const irrigated = wetting.irrigations.length > 0;
  const rained = wetting.rain_days.length > 0;
  if (irrigated && rained) return t("wettings.irrigationAndRain");
  if (irrigated) return t("wettings.irrigation");
  return rained ? t("wettings.rain") : t("wettings.nothingLogged");
}

/** A depth of water with what it may be off by. */
export function amount(mm: number | null, sigma: number | null, units: UnitSystem): string {
  if (mm === null) return UNKNOWN;
  const text = withUnit(mm, units, "water");
  return sigma === null
    ? text
    : t("wettings.withSpread", { amount: text, off: figure(sigma * EIGHT_OF_TEN, units, "water") });
}

/** "45 cm", or that it went on below the deepest sensor. */
export function reached(wetting: Wetting, units: UnitSystem): string {
  return wetting.reached_high_mm === null
    ? t("wettings.below", { depth: withUnit(wetting.reached_low_mm, units, "depth") })
    : withUnit(wetting.reached_mm, units, "depth");
}

/** The depths between which it ended. */
export function reachedBetween(wetting: Wetting, units: UnitSystem): string {
  if (wetting.reached_high_mm === null) return t("wettings.pastTheDeepestSensor");
  return t("wettings.between", {
    low: figure(wetting.reached_low_mm, units, "depth"),
    high: withUnit(wetting.reached_high_mm, units, "depth"),
  });
}

/** What the soil held more and the crop used, and as a share of what was applied. */
export function foundAgain(wetting: Wetting, units: UnitSystem): string {
  if (wetting.stored_mm === null || wetting.used_mm === null) return UNKNOWN;
  const found = withUnit(wetting.stored_mm + wetting.used_mm, units, "water");
  return wetting.recovery === null
    ? found
    : t("wettings.asShare", { amount: found, share: recovered(wetting) });
}

/** Share of what was applied that was found again. */
export function recovered(wetting: Wetting): string {
  if (wetting.recovery === null) return UNKNOWN;
  const off = (wetting.recovery_sigma ?? 0) * EIGHT_OF_TEN * 100;
  return t("wettings.withSpread", {
    amount: `${number(wetting.recovery * 100, 0)} %`,
    off: number(off, 0),
  });
}

export function drained(wetting: Wetting, time: FarmTime): string {
  if (wetting.drained_at !== null) return time.full(new Date(wetting.drained_at));
  return t("wettings.notSeenToEnd");
}

/** Speed of the front in depth a hour. */
export function frontSpeed(wetting: Wetting, units: UnitSystem): string {
  if (wetting.front_mm_h === null) return UNKNOWN;
  return t("wettings.anHour", {
    depth: `${figure(wetting.front_mm_h, units, "depth", 1)} ${measure(units, "depth").label}`,
  });
}
