/* Figures for the screen. The server speaks SI; here is the one place that turns them into
   the person's units. Exact factors; unknown is a dash, never a zero. */

export type UnitSystem = "metric" | "us";

const MM_PER_INCH = 25.4;
const M2_PER_HECTARE = 10_000;
const M2_PER_ACRE = 4046.8564224;
const US_GALLONS_PER_M3 = 264.17205235815;
const MANY_GALLONS = 100_000;
export const UNKNOWN = "–";

export interface Measure {
  label: string;
  /** What one unit on screen is in the server's unit. */
  size: number;
  digits: number;
}

type MeasureName =
  | "water"
  | "waterDay"
  | "rate"
  | "depth"
  | "depthFine"
  | "length"
  | "speed"
  | "area"
  | "volume"
  | "flow"
  | "theta"
  | "tension"
  | "share";

const MEASURES: Record<UnitSystem, Record<MeasureName, Measure>> = {
  metric: {
    water: { label: "mm", size: 1, digits: 1 },
    waterDay: { label: "mm/day", size: 1, digits: 1 },
    rate: { label: "mm/h", size: 1, digits: 2 },
    depth: { label: "cm", size: 10, digits: 0 },
    depthFine: { label: "mm", size: 1, digits: 0 },
    length: { label: "m", size: 1, digits: 1 },
    speed: { label: "m/h", size: 1, digits: 1 },
    area: { label: "ha", size: M2_PER_HECTARE, digits: 2 },
    volume: { label: "m³", size: 1, digits: 0 },
    flow: { label: "m³/h", size: 1, digits: 1 },
    theta: { label: "m³/m³", size: 1, digits: 3 },
    tension: { label: "kPa", size: 1, digits: 0 },
    share: { label: "%", size: 0.01, digits: 1 },
  },
  us: {
    water: { label: "in", size: MM_PER_INCH, digits: 2 },
    waterDay: { label: "in/day", size: MM_PER_INCH, digits: 2 },
    rate: { label: "in/h", size: MM_PER_INCH, digits: 3 },
    depth: { label: "in", size: MM_PER_INCH, digits: 1 },
    depthFine: { label: "in", size: MM_PER_INCH, digits: 2 },
    length: { label: "ft", size: 0.3048, digits: 0 },
    speed: { label: "ft/h", size: 0.3048, digits: 0 },
    area: { label: "ac", size: M2_PER_ACRE, digits: 2 },
    volume: { label: "gal", size: 1 / US_GALLONS_PER_M3, digits: 0 },
    flow: { label: "gal/min", size: 60 / US_GALLONS_PER_M3, digits: 0 },
    theta: { label: "in³/in³", size: 1, digits: 3 },
    tension: { label: "cbar", size: 1, digits: 0 },
    share: { label: "%", size: 0.01, digits: 1 },
  },
};

export function measure(units: UnitSystem, name: MeasureName): Measure {
  return MEASURES[units][name];
}

function grouped(value: number, digits: number): string {
  // A rounded-off minus must not stay on a zero.
  const rounded = Number(value.toFixed(digits)) + 0;
  return rounded.toLocaleString("en-GB", {
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
  if (whole === 0) return `${rest} min`;
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

/** From what a person typed, in his unit, to the server's; null when it is no number. */
export function typed(text: string, units: UnitSystem, name: MeasureName): number | null {
  const cleaned = text.trim().replace(",", ".");
  if (cleaned === "") return null;
  const value = Number(cleaned);
  return Number.isFinite(value) ? value * measure(units, name).size : null;
}

/** For a form: a value as it stands, empty where it is unknown. */
export function asText(value: number | null | undefined): string {
  return value === null || value === undefined ? "" : String(value);
}

/** For a form: the server's value in the person's unit, without needless digits. */
export function forForm(
  value: number | null | undefined,
  units: UnitSystem,
  name: MeasureName,
): string {
  if (value === null || value === undefined) return "";
  return String(Number((value / measure(units, name).size).toPrecision(6)));
}
