/* Figures for the screen. The server speaks SI; here is the one place that turns them into
   the person's units, by the table that mail and PDF go by as well. Unknown is a dash, never a
   zero. */

import { locale } from "../language/language";
import measures from "../../../server/base/measures.json";
import { t } from "./t";

export type UnitSystem = "metric" | "us";

const MANY_GALLONS = 100_000;
/** Of one L/s in m³/h. */
export const M3_H_PER_L_S = 3.6;
export const UNKNOWN = "–";

export interface Measure {
  label: string;
  /** What one unit on screen is in the server's unit. */
  size: number;
  digits: number;
}

export type MeasureName =
  | "water"
  | "waterDay"
  | "rate"
  | "depth"
  | "depthFine"
  | "length"
  | "speed"
  | "wind"
  | "area"
  | "volume"
  | "flow"
  | "theta"
  | "tension"
  | "stem"
  | "share";

const MEASURES: Record<UnitSystem, Record<MeasureName, Measure>> = measures;

export function measure(units: UnitSystem, name: MeasureName): Measure {
  return MEASURES[units][name];
}

function grouped(value: number, digits: number): string {
  // A rounded-off minus must not stay on a zero.
  const rounded = Number(value.toFixed(digits)) + 0;
  return rounded.toLocaleString(locale, {
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  });
}

/** The number alone, in the person's unit. */
export function figure(
  value: number | null | undefined,
  units: UnitSystem,
  name: MeasureName,
  digits?: number,
): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return UNKNOWN;
  const m = measure(units, name);
  const own = value / m.size;
  // Nobody measures a pond to the gallon.
  const coarse = name === "volume" && units === "us" && Math.abs(own) >= MANY_GALLONS;
  return grouped(coarse ? Math.round(own / 100) * 100 : own, digits ?? m.digits);
}

/** Figures that a calculator needs so that what comes of them has its last digit right. */
const EXACT_SHARE = 1e-6;
const MOST_MORE_DIGITS = 3;

/** The number with as many digits as a sum with it needs; no more than it has. */
export function exact(value: number, digits: number): string {
  let more = 0;
  const off = (d: number) => Math.abs(Number(value.toFixed(d)) - value);
  while (more < MOST_MORE_DIGITS && off(digits + more) > EXACT_SHARE * Math.abs(value)) more++;
  return grouped(value, digits + more);
}

/** The number alone, in the person's unit, as `exact` has it. */
export function exactFigure(value: number, units: UnitSystem, name: MeasureName): string {
  const m = measure(units, name);
  return exact(value / m.size, m.digits);
}

/** The number with its unit. */
export function withUnit(
  value: number | null | undefined,
  units: UnitSystem,
  name: MeasureName,
  digits?: number,
): string {
  const text = figure(value, units, name, digits);
  return text === UNKNOWN ? text : `${text} ${measure(units, name).label}`;
}

/** Water depth as the board shows it: whole millimetres, or hundredths of an inch. */
export function waterShort(value: number | null | undefined, units: UnitSystem): string {
  return withUnit(value, units, "water", units === "metric" ? 0 : 2);
}

/** Hours of running, as a clock would: "7 h 20". */
export function runningTime(hours: number | null | undefined): string {
  if (hours === null || hours === undefined || !Number.isFinite(hours)) return UNKNOWN;
  const minutes = Math.round(hours * 60);
  const rest = minutes % 60;
  const whole = (minutes - rest) / 60;
  if (whole === 0) return t("units.min", { rest });
  return rest === 0 ? `${whole} h` : `${whole} h ${String(rest).padStart(2, "0")}`;
}

/** How many: "1,234". */
export function count(value: number): string {
  return grouped(value, 0);
}

export function number(value: number | null | undefined, digits: number): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return UNKNOWN;
  return grouped(value, digits);
}

/**
 * From what a person typed, in his unit, to the server's; null when it is no number. A text that
 * still shows what it `was` gives that back, with the digits that the form left out.
 */
export function typed(
  text: string,
  units: UnitSystem,
  name: MeasureName,
  was?: number | null,
): number | null {
  if (was !== null && was !== undefined && text === forForm(was, units, name)) return was;
  const cleaned = text.trim().replace(",", ".");
  if (cleaned === "") return null;
  const value = Number(cleaned);
  return Number.isFinite(value) ? value * measure(units, name).size : null;
}

/** For a form: a value as it stands, empty where it is unknown. */
export function asText(value: number | null | undefined): string {
  return value === null || value === undefined ? "" : String(value);
}

/**
 * For a form: the server's value in the person's unit. Metric values are as someone typed them; in
 * other units one digit more than on the screen is enough, and `typed` gives back the rest.
 */
export function forForm(
  value: number | null | undefined,
  units: UnitSystem,
  name: MeasureName,
): string {
  if (value === null || value === undefined) return "";
  const m = measure(units, name);
  const own = Number((value / m.size).toPrecision(6));
  return String(units === "metric" ? own : Number(own.toFixed(m.digits + 1)));
}
