/* A part of the water supply as a form has it: texts by the name of the field. */

import { asText, forForm, typed, type MeasureName, type UnitSystem } from "../units/format";
import { clockOf, hourOf } from "./clock";

export type PartKind = "sources" | "mains" | "groups" | "machines" | "workers";

/** How a field is shown and read: as text, a number in a unit, a time of day, whole, per cent, one
 * of several names, a day, a moment, or days of the week. */
export type FieldKind =
  "text" | "number" | "clock" | "whole" | "percent" | "tariff" | "day" | "moment" | "weekdays";

export interface PartField {
  name: string;
  kind: FieldKind;
  measure?: MeasureName;
  /** What it is where nothing is entered. */
  empty: number | string | null;
}

const number = (name: string, measure?: MeasureName, empty: number | null = null): PartField => ({
  name,
  kind: "number",
  empty,
  ...(measure && { measure }),
});
const name: PartField = { name: "name", kind: "text", empty: "" };

/** Fields of each part, in the order in which they are asked. */
export const FIELDS: Record<PartKind, PartField[]> = {
  sources: [
    name,
    number("flow_m3_h", "flow"),
    number("smallest_m3_h", "flow"),
    { name: "from_hour", kind: "clock", empty: 0 },
    { name: "to_hour", kind: "clock", empty: 24 },
    number("day_m3", "volume"),
    number("season_m3", "volume"),
    { name: "season_from", kind: "day", empty: null },
    number("kwh_m3"),
    number("head_m", "length"),
    { name: "efficiency", kind: "percent", empty: null },
    { name: "tariff", kind: "tariff", empty: null },
    number("water_price", undefined, 0),
    { name: "turn.first_at", kind: "moment", empty: null },
    number("turn.hours"),
    number("turn.every_days"),
  ],
  mains: [name, number("flow_m3_h", "flow")],
  groups: [name, { name: "most_together", kind: "whole", empty: 1 }],
  machines: [name, number("moving_hours", undefined, 0)],
  workers: [
    name,
    { name: "from_hour", kind: "clock", empty: 6 },
    { name: "to_hour", kind: "clock", empty: 20 },
    { name: "weekdays", kind: "weekdays", empty: null },
    { name: "starts", kind: "whole", empty: 2 },
  ],
};

export type PartTexts = Record<string, string>;
type Values = Record<string, unknown>;

const WEEK = "0123456";

function valueAt(part: Values, path: string): unknown {
  return path.split(".").reduce<unknown>((at, step) => (at as Values | null)?.[step], part);
}

function shownText(field: PartField, value: unknown, units: UnitSystem): string {
  if (field.kind === "weekdays") return Array.isArray(value) ? value.join("") : WEEK;
  if (value === null || value === undefined) return "";
  // Kept with the farm's own offset: what stands before it is the farm's clock.
  if (typeof value === "string") return field.kind === "moment" ? value.slice(0, 16) : value;
  if (typeof value !== "number") return "";
  if (field.kind === "clock") return clockOf(value);
  if (field.kind === "percent") return asText(Number((value * 100).toFixed(2)));
  return field.measure ? forForm(value, units, field.measure) : asText(value);
}

/** A part as its form shows it; an empty form for a new one. */
export function textsOf(kind: PartKind, part: Values | null, units: UnitSystem): PartTexts {
  return Object.fromEntries(
    FIELDS[kind].map((field) => {
      const value = part ? valueAt(part, field.name) : field.empty;
      return [field.name, shownText(field, value, units)];
    }),
  );
}

/** What a text means; undefined when it can't be read. */
function read(field: PartField, text: string, was: unknown, units: UnitSystem): unknown {
  if (field.kind === "weekdays") return text.split("").map(Number);
  if (text.trim() === "") return field.empty;
  switch (field.kind) {
    case "text":
    case "tariff":
    case "day":
    case "moment":
      return text.trim();
    case "clock":
      return hourOf(text) ?? undefined;
    case "number":
    case "whole":
    case "percent": {
      const known = typeof was === "number" ? was : null;
      if (field.measure) return typed(text, units, field.measure, known) ?? undefined;
      const value = Number(text.trim().replace(",", "."));
      if (!Number.isFinite(value)) return undefined;
      return field.kind === "percent" ? value / 100 : value;
    }
  }
}

/** A part from its form; what can't be read is named instead. */
export function partFrom(
  kind: PartKind,
  texts: PartTexts,
  part: Values | null,
  units: UnitSystem,
): { value: Values } | { unreadable: string[] } {
  const unreadable: string[] = [];
  const value: Values = { ...part };
  const turn: Values = {};
  for (const field of FIELDS[kind]) {
    const was = part ? valueAt(part, field.name) : null;
    const found = read(field, texts[field.name] ?? "", was, units);
    if (found === undefined) unreadable.push(field.name);
    else if (field.name.startsWith("turn.")) turn[field.name.slice(5)] = found;
    else value[field.name] = found;
  }
  if (unreadable.length > 0) return { unreadable };
  if (kind === "sources") {
    const told = Object.values(turn).some((v) => v !== null);
    // A turn is told whole or not at all.
    const missing = Object.keys(turn).filter((k) => turn[k] === null);
    if (told && missing.length > 0) return { unreadable: missing.map((k) => `turn.${k}`) };
    value["turn"] = told ? turn : null;
  }
  return { value };
}
