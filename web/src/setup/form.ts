/* The form's text fields against what the server takes: units only, no judgement. The server
   is the one that says what can't be. */

import { designForm, designIn, hasDesign } from "../irrigation/designForm";
import type { DesignForm, SystemKind } from "../irrigation/designs";
import {
  firstHorizons,
  horizonFieldOf,
  horizonsIn,
  plain,
  type HorizonForm,
} from "../soils/horizonForm";
import type { SoilPreviewIn } from "../soils/queries";
import { asText, forForm, typed, type UnitSystem } from "../units/format";
import type { BlockIn, BlockSetup } from "./queries";

export interface BlockForm {
  name: string;
  area: string;
  soil: string;
  soilName: string;
  soilFrom: string;
  horizons: HorizonForm[];
  crop: string;
  planted: string;
  kind: SystemKind;
  knownBy: "design" | "rate" | "flow";
  design: DesignForm;
  rate: string;
  flow: string;
  efficiency: string;
  smallest: string;
  largest: string;
  rainRoom: string;
  slope: string;
  ecw: string;
  refillMethod: NonNullable<BlockIn["refill_method"]>;
  estimateFrom: NonNullable<BlockIn["estimate_from"]>;
  dual: string;
  rise: string;
  table: string;
  daily: string;
  supply: string;
  irrigator: string;
}

/** Soil choice that stands for "describe a new one here". */
export const NEW_SOIL = "new";

export function emptyForm(units: UnitSystem): BlockForm {
  return {
    name: "",
    area: "",
    soil: NEW_SOIL,
    soilName: "",
    soilFrom: "",
    horizons: firstHorizons(units),
    crop: "",
    planted: "",
    kind: "solid set sprinkler",
    knownBy: "rate",
    design: {},
    rate: "",
    flow: "",
    efficiency: "80",
    smallest: "",
    largest: "",
    rainRoom: "",
    slope: "1",
    ecw: "",
    refillMethod: "crop_p",
    estimateFrom: "combined",
    dual: "single",
    rise: "",
    table: "",
    daily: "refill",
    supply: "",
    irrigator: "",
  };
}

export function previewIn(form: BlockForm, units: UnitSystem): SoilPreviewIn {
  return {
    horizons: horizonsIn(form.horizons, units),
    crop_key: form.crop || null,
    planted_on: form.planted || null,
  };
}

function systemIn(
  form: BlockForm,
  units: UnitSystem,
  was: BlockSetup["system"] | undefined,
): BlockIn["system"] {
  const percent = plain(form.efficiency);
  const byDesign = form.knownBy === "design" && hasDesign(form.kind, form.design);
  return {
    kind: form.kind,
    rate_mm_h: form.knownBy === "rate" ? typed(form.rate, units, "rate", was?.rate_mm_h) : null,
    flow_m3_h: form.knownBy === "flow" ? typed(form.flow, units, "flow", was?.flow_m3_h) : null,
    design: byDesign ? designIn(form.kind, form.design, units, was?.design) : {},
    efficiency: (percent ?? 0) / 100,
    smallest_mm: typed(form.smallest, units, "water", was?.smallest_mm) ?? 0,
    largest_mm: typed(form.largest, units, "water", was?.largest_mm),
  };
}

/** `was`: the block as it stands, where there is one. */
export function blockIn(form: BlockForm, units: UnitSystem, was?: BlockSetup): BlockIn {
  const described = form.soil === NEW_SOIL;
  return {
    name: form.name,
    area_m2: typed(form.area, units, "area", was?.area_m2) ?? 0,
    soil_id: described ? null : Number(form.soil),
    soil_name: form.soilName,
    soil_from: form.soilFrom || null,
    horizons: described ? horizonsIn(form.horizons, units) : [],
    crop_key: form.crop || null,
    planted_on: form.planted || null,
    system: systemIn(form, units, was?.system),
    slope_percent: plain(form.slope) ?? 1,
    water_ecw: plain(form.ecw),
    rain_room_mm: typed(form.rainRoom, units, "water", was?.rain_room_mm) ?? 0,
    refill_method: form.refillMethod,
    estimate_from: form.estimateFrom,
    dual: form.dual === "dual",
    capillary_mm_day: typed(form.rise, units, "waterDay", was?.capillary_mm_day) ?? 0,
    water_table_mm: typed(form.table, units, "depth", was?.water_table_mm),
    little_and_often: form.daily === "daily",
    supply: form.supply,
    irrigator_id: form.irrigator ? Number(form.irrigator) : null,
  };
}

export function formOf(block: BlockSetup, units: UnitSystem): BlockForm {
  const design = block.system.design;
  const byDesign = Object.keys(design ?? {}).length > 0;
  const byRate = block.system.rate_mm_h !== null && block.system.rate_mm_h !== undefined;
  return {
    name: block.name,
    area: forForm(block.area_m2, units, "area"),
    soil: String(block.soil_id),
    soilName: block.soil_name ?? "",
    soilFrom: "",
    horizons: firstHorizons(units),
    crop: block.crop_key ?? "",
    planted: block.planted_on ?? "",
    kind: block.system.kind,
    knownBy: byDesign ? "design" : byRate ? "rate" : "flow",
    design: designForm(block.system.kind, design, units),
    rate: forForm(block.system.rate_mm_h, units, "rate"),
    flow: forForm(block.system.flow_m3_h, units, "flow"),
    efficiency: asText(Number((block.system.efficiency * 100).toPrecision(6))),
    smallest: block.system.smallest_mm ? forForm(block.system.smallest_mm, units, "water") : "",
    largest: forForm(block.system.largest_mm, units, "water"),
    rainRoom: block.rain_room_mm ? forForm(block.rain_room_mm, units, "water") : "",
    slope: asText(block.slope_percent),
    ecw: asText(block.water_ecw),
    refillMethod: block.refill_method,
    estimateFrom: block.estimate_from,
    dual: block.dual ? "dual" : "single",
    table: forForm(block.water_table_mm, units, "depth"),
    daily: block.little_and_often ? "daily" : "refill",
    rise: block.capillary_mm_day ? forForm(block.capillary_mm_day, units, "waterDay") : "",
    supply: block.supply ?? "",
    irrigator: block.irrigator_id ? String(block.irrigator_id) : "",
  };
}

const FIELDS: Record<string, string> = {
  area_m2: "area",
  soil_name: "soilName",
  soil_id: "soil",
  slope_percent: "slope",
  water_ecw: "ecw",
  crop_key: "crop",
  planted_on: "planted",
  "system.kind": "kind",
  "system.rate_mm_h": "rate",
  "system.flow_m3_h": "flow",
  "system.efficiency": "efficiency",
  "system.smallest_mm": "smallest",
  "system.largest_mm": "largest",
  rain_room_mm: "rainRoom",
  capillary_mm_day: "rise",
  water_table_mm: "table",
  irrigator_id: "irrigator",
  refill_method: "refillMethod",
  estimate_from: "estimateFrom",
};

/** The form's field for the server's path of a problem. */
export function fieldOf(path: string): string {
  const horizon = horizonFieldOf(path);
  if (horizon) return `horizons.${horizon.index}.${horizon.field}`;
  return FIELDS[path] ?? path;
}
