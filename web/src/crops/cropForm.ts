/* A crop's values as text fields, and back; units only, no judgement. */

import { asText, forForm, typed, type UnitSystem } from "../units/format";
import type { Crop, CropIn } from "./queries";

export interface CropForm {
  name: string;
  reason: string;
  days: string[];
  kc: string[];
  kcb: string[];
  height: string;
  surface: string;
  rootInitial: string;
  rootSchedule: string;
  rootDeep: string;
  p: string;
  tension: string;
  saltThreshold: string;
  saltSlope: string;
  warmth: string[];
  warmthBase: string;
  warmthUpper: string;
  warmthMethod: string;
  coverHeight: string;
  cover: string;
}

const plain = (text: string | undefined) => typed(text ?? "", "metric", "water");

export function cropForm(crop: Crop, units: UnitSystem): CropForm {
  return {
    name: crop.own ? crop.name : "",
    reason: crop.reason,
    days: crop.stage_days.map(String),
    kc: crop.kc.map(String),
    kcb: (crop.kcb ?? ["", "", ""]).map(String),
    height: forForm(crop.height_m * 1000, units, "depth"),
    surface: crop.surface,
    rootInitial: forForm(crop.root_initial_mm, units, "depth"),
    rootSchedule: forForm(crop.root_schedule_mm, units, "depth"),
    rootDeep: forForm(crop.root_deep_mm, units, "depth"),
    p: asText(crop.p),
    tension: asText(crop.tension_kpa),
    saltThreshold: asText(crop.salt?.threshold_ds_m),
    saltSlope: asText(crop.salt?.slope_percent),
    warmth: (crop.degree_days?.stage_sums ?? ["", "", "", ""]).map(String),
    warmthBase: asText(crop.degree_days?.base_c),
    warmthUpper: asText(crop.degree_days?.upper_c),
    warmthMethod: crop.degree_days?.method ?? "cut-off",
    coverHeight: asText(crop.canopy?.height_m),
    cover: asText(crop.canopy ? Number((crop.canopy.cover * 100).toPrecision(6)) : null),
  };
}

export function cropIn(form: CropForm, bookKey: string, units: UnitSystem): CropIn {
  // To the millimetre: a depth that was only shown in inches stays what it was.
  const whole = (text: string) => Math.round(typed(text, units, "depth") ?? 0);
  const salt = plain(form.saltThreshold);
  const slope = plain(form.saltSlope);
  const base = plain(form.warmthBase);
  const sums = form.warmth.map(plain);
  const basal = form.kcb.map(plain);
  const height = typed(form.height, units, "depth");
  const canopyHeight = plain(form.coverHeight);
  const cover = plain(form.cover);
  return {
    name: form.name,
    book_key: bookKey,
    reason: form.reason,
    stage_days: form.days.map((d) => plain(d) ?? 0),
    kc: form.kc.map((k) => plain(k) ?? 0),
    kcb: basal.every((k) => k === null) ? null : basal.map((k) => k ?? 0),
    height_m: height === null ? null : Number((height / 1000).toFixed(3)),
    surface: form.surface as CropIn["surface"],
    root_initial_mm: whole(form.rootInitial),
    root_schedule_mm: whole(form.rootSchedule),
    root_deep_mm: whole(form.rootDeep),
    p: plain(form.p) ?? 0,
    tension_kpa: plain(form.tension),
    salt: salt === null || slope === null ? null : { threshold_ds_m: salt, slope_percent: slope },
    degree_days:
      base === null || sums.includes(null)
        ? null
        : {
            method: form.warmthMethod as NonNullable<CropIn["degree_days"]>["method"],
            base_c: base,
            upper_c: plain(form.warmthUpper),
            stage_sums: sums.map((s) => s ?? 0),
          },
    canopy:
      canopyHeight === null || cover === null
        ? null
        : { height_m: canopyHeight, cover: Number((cover / 100).toPrecision(12)) },
  };
}
