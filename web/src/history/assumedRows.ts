/* What an advice assumed, line by line in the person's units. */

import type { Schemas } from "../api/client";
import { SCHOOL_NAMES, valueSaid } from "../limits/words";
import { figure, measure, number, UNKNOWN, withUnit, type UnitSystem } from "../units/format";

export type Assumed = Schemas["Assumed"];

const METHODS: Record<Assumed["weighing"], string> = {
  blend: "sensors and water balance combined",
  sensors: "sensors",
  balance: "water balance",
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
      const stones = l.gravel > 0 ? `, gravel ${withUnit(l.gravel, units, "share", 0)}` : "";
      return `${depths} ${l.texture} ${number(l.theta_full, 3)}/${number(l.theta_wilt, 3)}${stones}`;
    })
    .join("; ");
}

function three(values: number[] | null): string {
  return values ? values.map((v) => number(v, 2)).join(" / ") : UNKNOWN;
}

function kc(a: Assumed): string {
  if (!a.crop) return UNKNOWN;
  const used = a.dual && a.crop.kcb ? `Kcb ${three(a.crop.kcb)}` : three(a.crop.kc);
  return `${used} on ${a.crop.surface} ET`;
}

function bounds(a: Assumed, units: UnitSystem): string {
  if (!a.system) return UNKNOWN;
  const { smallest_mm: least, largest_mm: most } = a.system;
  const from = least > 0 ? `from ${withUnit(least, units, "water")}` : "no minimum";
  return `${from}, ${most === null ? "no maximum" : `to ${withUnit(most, units, "water")}`}`;
}

function days(values: number[] | null, units: UnitSystem): string {
  if (values === null) return UNKNOWN;
  if (values.length === 0) return "no forecast";
  return `${values.map((v) => figure(v, units, "waterDay")).join(", ")} ${measure(units, "waterDay").label}`;
}

function share(value: number | null, units: UnitSystem): string {
  return withUnit(value, units, "share", 0);
}

function climate(a: Assumed): string {
  if (a.wind_m_s === null || a.rh_min === null) return UNKNOWN;
  return `wind ${number(a.wind_m_s, 1)} m/s, lowest humidity ${number(a.rh_min, 0)} %`;
}

function daily(a: Assumed): string {
  if (a.little_and_often === null) return UNKNOWN;
  return a.little_and_often ? "yes, little and often" : "no";
}

const LINES: Line[] = [
  { name: "Estimate from", of: (a) => METHODS[a.weighing] },
  {
    name: "Refill point by",
    of: (a) => (a.school === null ? UNKNOWN : SCHOOL_NAMES[a.school]),
  },
  {
    name: "Refill point at",
    of: (a) => (a.school === null || a.value === null ? UNKNOWN : valueSaid(a.school, a.value)),
  },
  { name: "Soil: full/wilting point", of: soil },
  {
    name: "Crop",
    of: (a) => (a.crop ? `${a.crop.name}, planted ${a.crop.planted_on}` : UNKNOWN),
  },
  { name: "Crop coefficient (Kc)", of: kc },
  {
    name: "Allowable depletion, roots",
    of: (a, u) =>
      a.crop
        ? `p ${number(a.crop.p, 2)}, tension limit ${withUnit(a.crop.tension_kpa, u, "tension")}, ${withUnit(a.crop.root_mm, u, "depth")}`
        : UNKNOWN,
  },
  {
    name: "Irrigation system",
    of: (a, u) =>
      a.system
        ? `${a.system.kind}, ${withUnit(a.system.rate_mm_h, u, "rate")}, efficiency ${share(a.system.efficiency, u)}`
        : UNKNOWN,
  },
  { name: "Application", of: bounds },
  {
    name: "ET expected",
    of: (a, u) =>
      a.et0_mm
        ? `${figure(a.et0_mm[1], u, "waterDay")} (${figure(a.et0_mm[0], u, "waterDay")}–${withUnit(a.et0_mm[2], u, "waterDay")}), ${a.et0_source}`
        : UNKNOWN,
  },
  { name: "Forecast ET by day", of: (a, u) => days(a.forecast_et0_mm, u) },
  { name: "Forecast rain by day", of: (a, u) => days(a.forecast_rain_mm, u) },
  { name: "Room left for rain", of: (a, u) => withUnit(a.rain_room_mm, u, "water") },
  {
    name: "Wetted share of the ground",
    of: (a, u) => share(a.wetted_share, u),
  },
  { name: "Soil takes in", of: (a, u) => withUnit(a.intake_mm_h, u, "rate") },
  { name: "Capillary rise", of: (a, u) => withUnit(a.capillary_mm_day, u, "waterDay") },
  { name: "Water table depth", of: (a, u) => withUnit(a.water_table_mm, u, "depth") },
  { name: "Climate that Kc follows", of: climate },
  { name: "Irrigated every day", of: daily },
  { name: "Leaching requirement", of: (a, u) => share(a.leaching_share, u) },
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
