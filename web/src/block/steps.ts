/* The working's fixed vocabulary in words, and its formulas with figures put in. */

import {
  exact,
  exactFigure,
  number,
  runningTime,
  UNKNOWN,
  withUnit,
  type UnitSystem,
} from "../units/format";
import type { Step, Term } from "./queries";

type Unit = Step["unit"];

const TITLES: Record<string, string> = {
  root_depth: "Roots today",
  kc: "Crop coefficient Kc",
  kc_climate: "Climate's part in Kc",
  kc_fresh: "Coefficient in soil without salt",
  ks_salt: "Share of its use that salt leaves",
  kcb: "Basal crop coefficient Kcb",
  transpiration: "Water use of the crop itself",
  kc_max: "Highest Kc of a wet surface",
  cover: "Ground that the crop covers, fc",
  exposed: "Ground both wet and bare, few",
  tew: "Evaporable water of the top soil, TEW",
  kr: "Evaporation reduction Kr",
  ke: "Evaporation coefficient Ke",
  etc: "Crop water use, ETc",
  capillary_rise: "Capillary rise",
  taw: "Available water in the roots, TAW",
  p_crop: "Share that may be used, p",
  p_flat: "Share that may be used, p",
  p_tension: "Share that may be used, p",
  theta_at_limit: "Content at the tension limit",
  kc_book: "Kc of the book",
  cover_factor: "Ground cover against the book's",
  raw: "May be used, RAW",
  taw_learned: "Available water in the roots as the field has shown it, TAW",
  raw_learned: "Allowable depletion as the field has shown it, RAW",
  start_held: "Latest start around the hold, hours from now",
  deficit: "Deficit by the sensors",
  deficit_carried: "Deficit by the sensors, carried on",
  deficit_sites: "Deficit of all sites",
  balance: "Deficit by the balance",
  deficit_now: "Deficit now",
  taken_loss: "Share of the transpiration that may be lost",
  needed_by: "Water needed by, days from now",
  usable: "Left above refill",
  used_share: "Used of TAW",
  days_left: "Days until refill",
  latest_start: "Latest start, hours from now",
  gross: "Give, gross",
  net: "Reaches the roots, net",
  volume: "Volume",
  leaching_owed: "Leaching owed since the season began",
  leaching_due: "Leaching due with this irrigation",
  leaching_share: "Leaching as a share of this irrigation",
  rate: "Application rate",
  rate_emitters: "Application rate by emitters",
  safe_depth: "Largest depth at one go without run-off",
  pulse_depth: "Largest depth of a pulse",
  pulses: "Pulses",
  pulse_hours: "Hours of a pulse",
  daily_due: "A day's use, which is given each time",
  hours: "Hours",
};

/** Steps that a manager wants to see at a glance; the others unfold among them. */
export const HEADS = new Set(["taw", "raw", "usable", "days_left", "gross", "hours"]);

export function title(step: Step): string {
  return TITLES[step.key] ?? step.key;
}

/** A value in the person's units, with its unit; bare it is for a sum, with the digits it needs. */
export function shown(value: number, unit: Unit, units: UnitSystem, bare = false): string {
  const say = bare ? exactFigure : withUnit;
  switch (unit) {
    case "number":
      if (bare) return exact(value, Number.isInteger(value) ? 0 : 2);
      return number(value, Number.isInteger(value) ? 0 : 2);
    case "share":
      // In a formula a share is a factor, beside its name a percentage.
      return bare ? exact(value, 3) : withUnit(value, units, "share");
    case "theta":
      return say(value, units, "theta");
    case "tension_kpa":
      return say(value, units, "tension");
    case "water_mm":
      return say(value, units, "water");
    case "depth_mm":
      return say(value, units, "depthFine");
    case "water_mm_day":
      return say(value, units, "waterDay");
    case "equation_mm_day":
      return bare ? exact(value, 2) : `${number(value, 2)} mm/day`;
    case "rate_mm_h":
      return say(value, units, "rate");
    case "flow_m3_h":
      return say(value, units, "flow");
    case "volume_m3":
      return say(value, units, "volume");
    case "area_m2":
      return say(value, units, "area");
    case "hours":
      return bare ? exact(value, 2) : runningTime(value);
    case "days":
      return bare ? exact(value, 2) : `${number(value, 1)} days`;
    default:
      return UNKNOWN;
  }
}

/** What turns the shown units into the result's: 1 mm on 1 ha is 10 m³. */
function factor(step: Step, units: UnitSystem): string {
  if (step.key === "volume") return units === "metric" ? " × 10" : " × 27,154.3";
  if (step.key === "rate") return units === "metric" ? " ÷ 10" : " × 60 ÷ 27,154.3";
  // Litres an hour on a square metre are millimetres.
  if (step.key === "rate_emitters" && units === "us") return " ÷ 25.4";
  return "";
}

function typeset(formula: string): string {
  return formula.replaceAll(" * ", " × ").replaceAll(" / ", " ÷ ").replaceAll(" - ", " − ");
}

/** The formula in symbols: "D ÷ TAW". */
export function inSymbols(step: Step): string {
  return `${step.result} = ${typeset(step.formula)}`;
}

/** The same with figures: "18.3 ÷ 55.2 = 33.2 %". */
export function inFigures(step: Step, units: UnitSystem): string {
  const bySymbol = new Map<string, Term>(step.terms.map((t) => [t.symbol, t]));
  const filled = step.formula.replaceAll(/[A-Za-z][A-Za-z0-9]*/g, (symbol) => {
    const term = bySymbol.get(symbol);
    return term ? shown(term.value, term.unit, units, true) : symbol;
  });
  return `${typeset(filled)}${factor(step, units)} = ${shown(step.value, step.unit, units)}`;
}
