/* A horizon's text fields against what the server takes: units only, no judgement. */

import { forForm, typed, type UnitSystem } from "../units/format";
import type { HorizonIn } from "./queries";

export interface PointForm {
  tension: string;
  theta: string;
}

export interface HorizonForm {
  bottom: string;
  texture: string;
  sand: string;
  silt: string;
  clay: string;
  organic: string;
  gravel: string;
  density: string;
  ece: string;
  stopsRoots: boolean;
  note: string;
  method: string;
  curve: string;
  fullTension: string;
  points: PointForm[];
  full: string;
  wilt: string;
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
  density: "",
  ece: "",
  stopsRoots: false,
  note: "",
  method: "regression",
  curve: "",
  fullTension: "",
  points: [
    { tension: "10", theta: "" },
    { tension: "33", theta: "" },
    { tension: "1500", theta: "" },
  ],
  full: "",
  wilt: "",
};

/** Two horizons to begin with, at the depths people think in. */
export function firstHorizons(units: UnitSystem): HorizonForm[] {
  return [
    { ...EMPTY_HORIZON, bottom: units === "metric" ? "30" : "12", organic: "2" },
    { ...EMPTY_HORIZON, bottom: units === "metric" ? "100" : "40", organic: "1" },
  ];
}

/** A plain number as typed, without a unit. */
export function plain(text: string): number | null {
  return typed(text, "metric", "water");
}

function texts(value: number | null | undefined): string {
  return value === null || value === undefined ? "" : String(value);
}

function pointsIn(points: PointForm[]): HorizonIn["points"] {
  return points.flatMap((p) => {
    const tension = plain(p.tension);
    const theta = plain(p.theta);
    return tension === null || theta === null ? [] : [{ tension_kpa: tension, theta }];
  });
}

/** `was`: the horizons as they stand, whose boundaries keep the digits that the form leaves out. */
export function horizonsIn(
  horizons: HorizonForm[],
  units: UnitSystem,
  was: HorizonIn[] = [],
): HorizonIn[] {
  let top = 0;
  return horizons.map((h) => {
    const same = was.find((w) => forForm(w.bottom_mm, units, "depth") === h.bottom);
    const bottom = typed(h.bottom, units, "depth", same?.bottom_mm) ?? 0;
    const byFractions = h.texture === BY_FRACTIONS;
    const learned = h.method === "learned";
    const horizon: HorizonIn = {
      top_mm: top,
      bottom_mm: bottom,
      sand: byFractions ? plain(h.sand) : null,
      silt: byFractions ? plain(h.silt) : null,
      clay: byFractions ? plain(h.clay) : null,
      texture: byFractions ? null : (h.texture as HorizonIn["texture"]),
      organic_matter: plain(h.organic) ?? 0,
      gravel: plain(h.gravel) ?? 0,
      bulk_density: plain(h.density),
      ece: plain(h.ece),
      stops_roots: h.stopsRoots,
      note: h.note,
      method: h.method as HorizonIn["method"],
      curve: (h.curve || null) as HorizonIn["curve"],
      full_tension_kpa: plain(h.fullTension),
      points: pointsIn(h.points),
      theta_full: learned ? plain(h.full) : null,
      theta_wilt: learned ? plain(h.wilt) : null,
    };
    top = bottom;
    return horizon;
  });
}

/** The three tensions people measure at stay on the form, with any others thetaAt. */
function pointsForm(points: HorizonIn["points"] = []): PointForm[] {
  const thetaAt = new Map(points.map((p) => [p.tension_kpa, p.theta]));
  const tensions = [...new Set([10, 33, 1500, ...thetaAt.keys()])].toSorted((a, b) => a - b);
  return tensions.map((t) => ({ tension: String(t), theta: texts(thetaAt.get(t)) }));
}

export function horizonForm(h: HorizonIn, units: UnitSystem): HorizonForm {
  return {
    bottom: forForm(h.bottom_mm, units, "depth"),
    texture: h.texture ?? BY_FRACTIONS,
    sand: texts(h.sand),
    silt: texts(h.silt),
    clay: texts(h.clay),
    organic: texts(h.organic_matter),
    gravel: texts(h.gravel),
    density: texts(h.bulk_density),
    ece: texts(h.ece),
    stopsRoots: h.stops_roots ?? false,
    note: h.note ?? "",
    method: h.method ?? "regression",
    curve: h.curve ?? "",
    fullTension: texts(h.full_tension_kpa),
    points: pointsForm(h.points),
    full: texts(h.theta_full),
    wilt: texts(h.theta_wilt),
  };
}

const FIELDS: Record<string, keyof HorizonForm> = {
  top_mm: "bottom",
  bottom_mm: "bottom",
  organic_matter: "organic",
  bulk_density: "density",
  stops_roots: "stopsRoots",
  full_tension_kpa: "fullTension",
  theta_full: "full",
  theta_wilt: "wilt",
};

/** The form's field for the server's path of a problem ("horizons.1.sand"); null elsewhere. */
export function horizonFieldOf(path: string): { index: number; field: keyof HorizonForm } | null {
  const found = /^horizons\.(\d+)\.(\w+)/.exec(path);
  if (!found) return null;
  const name = found[2] ?? "";
  return { index: Number(found[1]), field: FIELDS[name] ?? (name as keyof HorizonForm) };
}
