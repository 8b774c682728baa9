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
import type { TermKey } from "../glossary/terms";
import { t } from "./t";

type Unit = Step["unit"];

const TITLES: Record<Step["key"], string> = {
  root_depth: t("block.rootsToday"),
  kc: t("block.cropCoefficientKc"),
  kc_climate: t("block.adjustmentOfKcForClimate"),
  kc_fresh: t("block.cropCoefficientWithoutSalt"),
  ks_salt: t("block.shareOfCropWaterUseLeftBy"),
  kcb: t("block.basalCropCoefficientKcb"),
  transpiration: t("block.waterUseOfTheCropItself"),
  kc_max: t("block.maximumKcOfAWetSurfaceKc"),
  cover: t("block.groundCoverFc"),
  exposed: t("block.wettedAndExposedSoilFew"),
  tew: t("block.totalEvaporableWaterTew"),
  kr: t("block.evaporationReductionCoefficientKr"),
  ke: t("block.soilEvaporationCoefficientKe"),
  etc: t("block.cropWaterUseEtc"),
  capillary_rise: t("block.capillaryRise"),
  taw: t("block.totalAvailableWaterInTheRootZone"),
  p_crop: t("block.depletionFractionP"),
  p_flat: t("block.depletionFractionP"),
  p_tension: t("block.depletionFractionP"),
  theta_at_limit: t("block.waterContentAtTheTensionLimit"),
  kc_book: t("block.publishedKc"),
  cover_factor: t("block.groundCoverRelativeToThePublishedKc"),
  raw: t("block.allowableDepletionRaw"),
  taw_learned: t("block.totalAvailableWaterInTheRootZone2"),
  raw_learned: t("block.allowableDepletionEstimatedFromThis"),
  start_held: t("block.latestStartInViewOfTheHold"),
  deficit: t("block.deficitFromSensors"),
  deficit_carried: t("block.deficitFromSensorsBroughtForwardTo"),
  deficit_sites: t("block.deficitAllSitesCombined"),
  balance: t("block.deficitFromTheWaterBalance"),
  deficit_now: t("block.deficitNow"),
  taken_loss: t("block.shareOfTranspirationThatMayBeLost"),
  needed_by: t("block.waterNeededByDaysFromNow"),
  usable: t("block.waterLeftAboveRefill"),
  used_share: t("block.depletionShareOfTaw"),
  days_left: t("block.daysUntilTheRefillPoint"),
  latest_start: t("block.latestStartHoursFromNow"),
  gross: t("block.applicationGross"),
  net: t("block.applicationNetReachesTheRoots"),
  volume: t("block.volume"),
  leaching_owed: t("block.leachingStillRequiredThisSeason"),
  leaching_due: t("block.leachingDueWithThisIrrigation"),
  leaching_share: t("block.leachingShareOfThisIrrigation"),
  rate: t("block.applicationRate"),
  rate_emitters: t("block.applicationRateByEmitters"),
  safe_depth: t("block.maximumDepthAtOneGoWithoutRun"),
  pulse_depth: t("block.maximumDepthOfAPulse"),
  pulses: t("block.pulses"),
  pulse_hours: t("block.durationOfAPulseHours"),
  daily_due: t("block.dailyCropWaterUseAppliedEachTime"),
  hours: t("block.hours"),
  ponded_loss: t("block.waterThatTheFieldLosesInADay"),
  water_to_limit: t("block.waterAboveTheLowestLevel"),
  days_to_limit: t("block.daysToTheLowestLevelWithoutRain"),
  rise_depth: t("block.waterThatRaisesTheField"),
  fill_hours: t("block.hoursOfTheInlet"),
  leaf_now: t("block.leafNow"),
  leaf_at_edge: t("block.leafAtEdge"),
  lowest_store: t("block.lowestStore"),
  above_lowest: t("block.aboveLowest"),
  to_upper_edge: t("block.toUpperEdge"),
  share_due: t("block.shareDue"),
};

/** The term of the glossary that a step's result is. */
export const STEP_TERMS: Partial<Record<Step["key"], TermKey>> = {
  kc: "kc",
  kc_book: "kc",
  kcb: "kcb",
  etc: "etc",
  capillary_rise: "capillary",
  taw: "taw",
  taw_learned: "taw",
  p_crop: "p",
  p_flat: "p",
  p_tension: "p",
  raw: "raw",
  raw_learned: "raw",
  deficit: "deficit",
  deficit_carried: "deficit",
  deficit_sites: "deficit",
  deficit_now: "deficit",
  balance: "deficit",
  gross: "gross",
  net: "net",
  leaching_owed: "leaching",
  leaching_due: "leaching",
  leaching_share: "leaching",
  rate: "rate",
  start_held: "hold",
};

/** Steps that a manager wants to see at a glance; the others unfold among them. */
export const HEADS: ReadonlySet<Step["key"]> = new Set<Step["key"]>([
  "taw",
  "raw",
  "usable",
  "days_left",
  "gross",
  "hours",
]);

export function title(step: Step): string {
  return TITLES[step.key];
}

/** Two digits behind the point, or as many as a small number needs to show three of its own. */
function digitsOf(value: number): number {
  if (Number.isInteger(value)) return 0;
  return Math.max(2, 2 - Math.floor(Math.log10(Math.abs(value))));
}

/** A value in the person's units, with its unit; bare it is for a sum, with the digits it needs. */
export function shown(value: number, unit: Unit, units: UnitSystem, bare = false): string {
  const say = bare ? exactFigure : withUnit;
  switch (unit) {
    case "number":
      return (bare ? exact : number)(value, digitsOf(value));
    case "share":
      // In a formula a share is a factor, beside its name a percentage.
      return bare ? exact(value, 3) : withUnit(value, units, "share");
    case "theta":
      return say(value, units, "theta");
    case "tension_kpa":
      return say(value, units, "tension");
    case "mpa":
      // Stays in MPa: the relation's constants need it.
      return bare ? exact(value, 3) : t("block.mpa", { value: number(value, 2) });
    case "water_mm":
      return say(value, units, "water");
    case "depth_mm":
      return say(value, units, "depthFine");
    case "water_mm_day":
      return say(value, units, "waterDay");
    case "equation_mm_day":
      return bare ? exact(value, 2) : t("block.mmDay", { value: number(value, 2) });
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
      return bare ? exact(value, 2) : t("block.days", { value: number(value, 1) });
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
  return formula
    .replaceAll(" ** ", " ^ ")
    .replaceAll(" * ", " × ")
    .replaceAll(" / ", " ÷ ")
    .replaceAll(" - ", " − ");
}

/** The formula in symbols: "D ÷ TAW". */
export function inSymbols(step: Step): string {
  return `${step.result} = ${typeset(step.formula)}`;
}

/** The same with figures: "18.3 ÷ 55.2 = 33.2 %". */
export function inFigures(step: Step, units: UnitSystem): string {
  const bySymbol = new Map<string, Term>(step.terms.map((term) => [term.symbol, term]));
  const filled = step.formula.replaceAll(/[A-Za-z][A-Za-z0-9]*/g, (symbol) => {
    const term = bySymbol.get(symbol);
    return term ? shown(term.value, term.unit, units, true) : symbol;
  });
  return `${typeset(filled)}${factor(step, units)} = ${shown(step.value, step.unit, units)}`;
}
