/* The form of a set against what the server takes: units only, no judgement. */

import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { asText, forForm, typed, type UnitSystem } from "../units/format";
import type { SetIn, SetOut } from "./queries";
import { percent } from "./way";

export interface SetForm {
  blocks: number[];
  status: SetOut["status"];
  started: string;
  ended: string;
  /** How the amount is told. */
  by: "hours" | "meter" | "depth";
  hours: string;
  depth: string;
  meterStart: string;
  meterEnd: string;
  share: string;
  /** Places on the way of what moves over its block, in percent. */
  placeFrom: string;
  placeTo: string;
  note: string;
}

export function emptySet(time: FarmTime, blocks: number[] = []): SetForm {
  const now = localInput(time);
  return {
    blocks,
    status: "done",
    started: now,
    ended: now,
    by: "hours",
    hours: "",
    depth: "",
    meterStart: "",
    meterEnd: "",
    share: "100",
    placeFrom: "",
    placeTo: "",
    note: "",
  };
}

/** Over the part that it wetted. */
const depthOf = (set: SetOut) => set.gross_mm / set.share;

/** A set as it stands, to be corrected or ended: a running one is taken to end now. */
export function formOf(set: SetOut, time: FarmTime, units: UnitSystem, ends: boolean): SetForm {
  return {
    blocks: [set.block_id],
    status: ends ? "done" : set.status,
    started: localInput(time, new Date(set.started_at)),
    ended: ends ? localInput(time) : localInput(time, new Date(set.ended_at)),
    // A meter that was read at the start will be read at the end.
    by: !ends ? set.amount_from : set.meter_start_m3 === null ? "hours" : "meter",
    hours: "",
    depth: forForm(depthOf(set), units, "water"),
    meterStart: asText(set.meter_start_m3),
    meterEnd: asText(set.meter_end_m3),
    share: String(Number((set.share * 100).toFixed(1))),
    placeFrom: set.way ? percent(set.way.place_from) : "",
    placeTo: set.way ? percent(set.way.place_to) : "",
    note: set.note,
  };
}

const plain = (text: string) => typed(text, "metric", "water");

function part(text: string): number | null {
  const value = plain(text);
  return value === null ? null : value / 100;
}

/** `was`: the irrigation as it stands, where one is corrected. */
export function setIn(form: SetForm, units: UnitSystem, was?: SetOut | null): SetIn {
  const metered = form.by === "meter";
  const share = plain(form.share);
  return {
    status: form.status,
    started_at: form.started,
    ended_at: form.status === "planned" && form.hours ? null : form.ended || null,
    hours: form.status === "planned" && form.hours ? plain(form.hours) : null,
    gross_mm: form.by === "depth" ? typed(form.depth, units, "water", was && depthOf(was)) : null,
    meter_start_m3: metered ? plain(form.meterStart) : null,
    meter_end_m3: metered ? plain(form.meterEnd) : null,
    share: share === null ? 1 : share / 100,
    place_from: part(form.placeFrom),
    place_to: part(form.placeTo),
    note: form.note,
  };
}
