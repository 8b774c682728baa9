/* The form's text fields against what the server takes: units only, no judgement. The server
   is the one that says what can't be. */

import { forForm, typed, type UnitSystem } from "../units/format";
import type { BlockIn, BlockSetup, SoilPreviewIn } from "./queries";

export interface HorizonForm {
  bottom: string;
  texture: string;
  sand: string;
  silt: string;
  clay: string;
  organic: string;
  gravel: string;
  method: string;
  full: string;
  wilt: string;
}

export interface BlockForm {
  name: string;
  area: string;
  soilName: string;
  horizons: HorizonForm[];
  crop: string;
  planted: string;
  kind: string;
  rateOrFlow: "rate" | "flow";
  rate: string;
  flow: string;
  efficiency: string;
  smallest: string;
  largest: string;
  rainRoom: string;
  school: string;
}

/** Texture choice that stands for "by percentages". */
export const BY_FRACTIONS = "fractions";

export const EMPTY_HORIZON: HorizonForm = {
  bottom: "",
  texture: "loam",
  sand: "",
  silt: "",
  clay: "",
  organic: "1.5",
  gravel: "0",
  method: "regression",
  full: "",
  wilt: "",
};

export function emptyForm(units: UnitSystem): BlockForm {
  return {
    name: "",
    area: "",
    soilName: "",
    horizons: [
      { ...EMPTY_HORIZON, bottom: units === "metric" ? "30" : "12", organic: "2" },
      { ...EMPTY_HORIZON, bottom: units === "metric" ? "100" : "40", organic: "1" },
    ],
    crop: "",
    planted: "",
    kind: "solid set sprinkler",
    rateOrFlow: "rate",
    rate: "",
    flow: "",
    efficiency: "80",
    smallest: "",
    largest: "",
    rainRoom: "",
    school: "crop_p",
  };
}

function plain(text: string): number | null {
  return typed(text, "metric", "water");
}

function texts(value: number | null | undefined): string {
  return value === null || value === undefined ? "" : String(value);
}

export function horizonsIn(form: BlockForm, units: UnitSystem): BlockIn["horizons"] {
  let top = 0;
  return form.horizons.map((h) => {
    const bottom = typed(h.bottom, units, "depth") ?? 0;
    const byFractions = h.texture === BY_FRACTIONS;
    const measured = h.method === "measured";
    const horizon = {
      top_mm: top,
      bottom_mm: bottom,
      sand: byFractions ? plain(h.sand) : null,
      silt: byFractions ? plain(h.silt) : null,
      clay: byFractions ? plain(h.clay) : null,
      texture: byFractions ? null : (h.texture as BlockIn["horizons"][number]["texture"]),
      organic_matter: plain(h.organic) ?? 0,
      gravel: plain(h.gravel) ?? 0,
      method: h.method as BlockIn["horizons"][number]["method"],
      theta_full: measured ? plain(h.full) : null,
      theta_wilt: measured ? plain(h.wilt) : null,
    };
    top = bottom;
    return horizon;
  });
}

export function previewIn(form: BlockForm, units: UnitSystem): SoilPreviewIn {
  return {
    horizons: horizonsIn(form, units),
    crop_key: form.crop || null,
    planted_on: form.planted || null,
  };
}

export function blockIn(form: BlockForm, units: UnitSystem): BlockIn {
  const byRate = form.rateOrFlow === "rate";
  const percent = plain(form.efficiency);
  return {
    name: form.name,
    area_m2: typed(form.area, units, "area") ?? 0,
    soil_name: form.soilName,
    horizons: horizonsIn(form, units),
    crop_key: form.crop || null,
    planted_on: form.planted || null,
    system: {
      kind: form.kind as BlockIn["system"]["kind"],
      rate_mm_h: byRate ? typed(form.rate, units, "rate") : null,
      flow_m3_h: byRate ? null : typed(form.flow, units, "flow"),
      efficiency: (percent ?? 0) / 100,
      smallest_mm: typed(form.smallest, units, "water") ?? 0,
      largest_mm: typed(form.largest, units, "water"),
    },
    rain_room_mm: typed(form.rainRoom, units, "water") ?? 0,
    school: form.school as BlockIn["school"],
  };
}

export function formOf(block: BlockSetup, units: UnitSystem): BlockForm {
  return {
    name: block.name,
    area: forForm(block.area_m2, units, "area"),
    soilName: block.soil_name,
    horizons: block.horizons.map((h) => ({
      bottom: forForm(h.bottom_mm, units, "depth"),
      texture: h.texture ?? BY_FRACTIONS,
      sand: texts(h.sand),
      silt: texts(h.silt),
      clay: texts(h.clay),
      organic: texts(h.organic_matter),
      gravel: texts(h.gravel),
      method: h.method,
      full: texts(h.theta_full),
      wilt: texts(h.theta_wilt),
    })),
    crop: block.crop_key ?? "",
    planted: block.planted_on ?? "",
    kind: block.system.kind,
    rateOrFlow: block.system.rate_mm_h === null ? "flow" : "rate",
    rate: forForm(block.system.rate_mm_h, units, "rate"),
    flow: forForm(block.system.flow_m3_h, units, "flow"),
    efficiency: texts(Number((block.system.efficiency * 100).toPrecision(6))),
    smallest: block.system.smallest_mm ? forForm(block.system.smallest_mm, units, "water") : "",
    largest: forForm(block.system.largest_mm, units, "water"),
    rainRoom: block.rain_room_mm ? forForm(block.rain_room_mm, units, "water") : "",
    school: block.school,
  };
}

const FIELDS: Record<string, string> = {
  area_m2: "area",
  soil_name: "soilName",
  crop_key: "crop",
  planted_on: "planted",
  "system.kind": "kind",
  "system.rate_mm_h": "rate",
  "system.flow_m3_h": "flow",
  "system.efficiency": "efficiency",
  "system.smallest_mm": "smallest",
  "system.largest_mm": "largest",
  rain_room_mm: "rainRoom",
};
const HORIZON_FIELDS: Record<string, string> = {
  top_mm: "bottom",
  bottom_mm: "bottom",
  organic_matter: "organic",
  theta_full: "full",
  theta_wilt: "wilt",
};

/** The form's field for the server's path of a problem. */
export function fieldOf(path: string): string {
  const horizon = /^horizons\.(\d+)\.(\w+)$/.exec(path);
  if (horizon) {
    const [, index, name = ""] = horizon;
    return `horizons.${index}.${HORIZON_FIELDS[name] ?? name}`;
  }
  return FIELDS[path] ?? path;
}
