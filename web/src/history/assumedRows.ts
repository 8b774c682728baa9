/* What an advice assumed, line by line in the person's units. */

import type { Schemas } from "../api/client";
import { REFILL_METHOD_NAMES, valueSaid } from "../limits/words";
import { figure, measure, number, UNKNOWN, withUnit, type UnitSystem } from "../units/format";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

export type Assumed = Schemas["Assumed"];

const METHODS: Record<Assumed["estimate_from"], string> = {
  combined: t("history.sensorsAndWaterBalanceCombined"),
  sensors: t("history.sensors"),
  balance: t("history.waterBalance"),
};

interface Line {
  name: string;
  of: (a: Assumed, units: UnitSystem) => string;
}

function soil(a: Assumed, units: UnitSystem): string {
  if (a.soil.length === 0) return UNKNOWN;
  return a.soil
    .map((l) => {
      const depths = `${figure(l.top_mm, units, "depth")}–${withUnit(l.bottom_mm, units, "depth")}`;
      const stones =
        l.gravel > 0 ? t("history.gravel", { gravel: withUnit(l.gravel, units, "share", 0) }) : "";
      return `${depths} ${l.texture} ${number(l.theta_full, 3)}/${number(l.theta_wilt, 3)}${stones}`;
    })
    .join("; ");
}

function three(values: number[] | null): string {
  return values ? values.map((v) => number(v, 2)).join(" / ") : UNKNOWN;
}

function kc(a: Assumed): string {
  if (!a.crop) return UNKNOWN;
  const used =
    a.dual && a.crop.kcb ? t("history.kcb", { three: three(a.crop.kcb) }) : three(a.crop.kc);
  return t("history.onEt", { used, surface: a.crop.surface });
}

function bounds(a: Assumed, units: UnitSystem): string {
  if (!a.system) return UNKNOWN;
  const { smallest_mm: least, largest_mm: most } = a.system;
  const from =
    least > 0
      ? t("history.from", { least: withUnit(least, units, "water") })
      : t("history.noMinimum");
  return `${from}, ${most === null ? t("history.noMaximum") : t("history.to", { most: withUnit(most, units, "water") })}`;
}

function days(values: number[] | null, units: UnitSystem): string {
  if (values === null) return UNKNOWN;
  if (values.length === 0) return t("history.noForecast");
  return `${values.map((v) => figure(v, units, "waterDay")).join(", ")} ${measure(units, "waterDay").label}`;
}

function share(value: number | null, units: UnitSystem): string {
  return withUnit(value, units, "share", 0);
}

function climate(a: Assumed): string {
  if (a.wind_m_s === null || a.rh_min === null) return UNKNOWN;
  return t("history.windMSLowestHumidity", {
    windMS: number(a.wind_m_s, 1),
    rhMin: number(a.rh_min, 0),
  });
}

function daily(a: Assumed): string {
  if (a.little_and_often === null) return UNKNOWN;
  return a.little_and_often ? t("history.yesLittleAndOften") : t("history.no");
}

function steering(a: Assumed, units: UnitSystem): string {
  if (!a.leaf) return UNKNOWN;
  const bands = a.leaf.bands
    .map((b) => {
      const edges = `${figure(b.upper_mpa, units, "stem")}–${figure(b.lower_mpa, units, "stem")}`;
      return `${t(`leaf_phase.${b.phase}`)} ${edges}`;
    })
    .join("; ");
  const rule =
    a.leaf.strategy === "share" ? share(a.leaf.use_share, units) : t(`strategy.${a.leaf.strategy}`);
  return `${t(`product.${a.leaf.product}`)}, ${rule}: ${bands} ${measure(units, "stem").label}`;
}

function lessWater(a: Assumed, units: UnitSystem): string {
  if (!a.deficit) return UNKNOWN;
  return a.deficit.stages
    .map((s) =>
      s.use_share === null
        ? t("history.refillAtShare", {
            stage: t(`stage.${s.stage}`),
            share: share(s.allowed, units),
          })
        : t("history.shareOfEtc", {
            stage: t(`stage.${s.stage}`),
            share: share(s.use_share, units),
          }),
    )
    .join("; ");
}

function cuts(a: Assumed): string {
  if (!a.cutting) return UNKNOWN;
  const settled = a.cutting.planned.map((on) => shownDay(on)).join(", ");
  const every =
    a.cutting.every_days === null ? "" : t("history.everyDays", { days: a.cutting.every_days });
  return `${t(`harvested.${a.cutting.harvested}`)}: ${[settled, every].filter(Boolean).join("; ")}`;
}

const LINES: Line[] = [
  { name: t("history.estimateFrom"), of: (a) => METHODS[a.estimate_from] },
  {
    name: t("history.refillPointBy"),
    of: (a) => (a.refill_method === null ? UNKNOWN : REFILL_METHOD_NAMES[a.refill_method]),
  },
  {
    name: t("history.refillPointAt"),
    of: (a) =>
      a.refill_method === null || a.value === null ? UNKNOWN : valueSaid(a.refill_method, a.value),
  },
  { name: t("history.soilFullWiltingPoint"), of: soil },
  {
    name: t("history.crop"),
    of: (a) =>
      a.crop
        ? t("history.planted", { name: a.crop.name, plantedOn: shownDay(a.crop.planted_on) })
        : UNKNOWN,
  },
  { name: t("history.cropCoefficientKc"), of: kc },
  {
    name: t("history.depletionFractionRoots"),
    of: (a, u) =>
      a.crop
        ? t("history.pTensionLimit", {
            p: number(a.crop.p, 2),
            tension: withUnit(a.crop.tension_kpa, u, "tension"),
            root: withUnit(a.crop.root_mm, u, "depth"),
          })
        : UNKNOWN,
  },
  {
    name: t("history.irrigationSystem"),
    of: (a, u) =>
      a.system
        ? t("history.efficiency", {
            kind: a.system.kind,
            rate: withUnit(a.system.rate_mm_h, u, "rate"),
            share: share(a.system.efficiency, u),
          })
        : UNKNOWN,
  },
  { name: t("history.application"), of: bounds },
  {
    name: t("history.etExpected"),
    of: (a, u) =>
      a.et0_mm
        ? `${figure(a.et0_mm[1], u, "waterDay")} (${figure(a.et0_mm[0], u, "waterDay")}–${withUnit(a.et0_mm[2], u, "waterDay")}), ${a.et0_source}`
        : UNKNOWN,
  },
  { name: t("history.forecastEtByDay"), of: (a, u) => days(a.forecast_et0_mm, u) },
  { name: t("history.forecastRainByDay"), of: (a, u) => days(a.forecast_rain_mm, u) },
  { name: t("history.roomLeftForRain"), of: (a, u) => withUnit(a.rain_room_mm, u, "water") },
  {
    name: t("history.wettedShareOfTheGround"),
    of: (a, u) => share(a.wetted_share, u),
  },
  { name: t("history.intakeRateOfTheSoil"), of: (a, u) => withUnit(a.intake_mm_h, u, "rate") },
  { name: t("history.capillaryRise"), of: (a, u) => withUnit(a.capillary_mm_day, u, "waterDay") },
  { name: t("history.waterTableDepth"), of: (a, u) => withUnit(a.water_table_mm, u, "depth") },
  { name: t("history.climateForKc"), of: climate },
  { name: t("history.irrigatedEveryDay"), of: daily },
  { name: t("history.leachingRequirement"), of: (a, u) => share(a.leaching_share, u) },
  {
    name: t("history.riceField"),
    of: (a, u) =>
      a.ponded
        ? t("history.riceFieldWords", {
            bund: withUnit(a.ponded.bund_mm, u, "depth"),
            threshold: withUnit(-a.ponded.threshold_mm, u, "depth"),
            refill: withUnit(a.ponded.refill_to_mm, u, "depth"),
          })
        : UNKNOWN,
  },
  { name: t("history.steeredByLeaf"), of: steering },
  { name: t("history.lessWater"), of: lessWater },
  { name: t("history.cutCalendar"), of: cuts },
];

export interface AssumedRow {
  name: string;
  given: string;
  today: string;
  /** Known of that morning, and not what is assumed of it today. */
  changed: boolean;
}

export function assumedRows(then: Assumed, today: Assumed, units: UnitSystem): AssumedRow[] {
  return LINES.map((line) => {
    const a = line.of(then, units);
    const b = line.of(today, units);
    return { name: line.name, given: a, today: b, changed: a !== UNKNOWN && a !== b };
  });
}
