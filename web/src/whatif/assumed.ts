/* What a person assumes, against what the server takes. */

import type { BlockData } from "../block/queries";
import { typed, type UnitSystem } from "../units/format";
import type { WhatIfIn } from "./queries";

export interface Assumed {
  set: boolean;
  startHours: number;
  runHours: number;
  rain: boolean;
  rainDay: number;
  rainMm: number;
  etPercent: number;
  stage: string;
  refill_method: string;
  estimate_from: string;
  room: string;
}

export const LONGEST_DAYS = 10;

/** As things are: the advised set to move about, nothing else changed. */
export function asItIs(block: BlockData, hoursToStart: number | null): Assumed {
  const run = block.answer.run?.total_hours ?? block.answer.amount?.hours ?? 6;
  return {
    set: false,
    startHours: Math.min(Math.max(Math.round(hoursToStart ?? 24), 0), 24 * LONGEST_DAYS),
    runHours: Math.max(Math.round(run * 2) / 2, 0.5),
    rain: false,
    rainDay: 2,
    rainMm: 10,
    etPercent: 100,
    stage: "",
    refill_method: "",
    estimate_from: "",
    room: "",
  };
}

/** The rain of each day from today: all on one day, the others dry. */
function rainOf(a: Assumed): number[] {
  return Array.from({ length: LONGEST_DAYS }, (_, day) => (day === a.rainDay ? a.rainMm : 0));
}

export function whatIfIn(a: Assumed, units: UnitSystem): WhatIfIn {
  return {
    no_set: false,
    set_start_hours: a.set ? a.startHours : null,
    set_hours: a.set ? a.runHours : null,
    rain_mm: a.rain ? rainOf(a) : null,
    et_factor: a.etPercent / 100,
    stage_key: a.stage || null,
    refill_method: (a.refill_method || null) as WhatIfIn["refill_method"] & string,
    estimate_from: (a.estimate_from || null) as WhatIfIn["estimate_from"] & string,
    rain_room_mm: typed(a.room, units, "water"),
  };
}

/** Whether anything is assumed that is not so. */
export function isOther(a: Assumed): boolean {
  return (
    a.set ||
    a.rain ||
    a.etPercent !== 100 ||
    [a.stage, a.refill_method, a.estimate_from, a.room].some((v) => v !== "")
  );
}
