/* The answer in the board's fixed words. */

import type { Schemas } from "../api/client";
import { span, type FarmTime } from "../time/farmTime";
import { runningTime, waterShort, type UnitSystem } from "../units/format";
import type { Answer } from "./types";

export type Hold = NonNullable<Answer["hold"]>;

/** Why water has to wait. */
export const HOLD_WORDS: Record<Hold, string> = {
  cutting: "cutting",
  drying: "drying",
  harvest: "harvest",
  spray: "spray interval",
  fertiliser: "fertiliser interval",
  wind: "wind",
  frost: "frost",
  no_allocation: "no allocation",
  field_work: "field work",
};

/** The state in two or three words: "Water by Thu". */
export function stateWords(answer: Answer, time: FarmTime): string {
  switch (answer.state) {
    case "past_refill": {
      const hours = answer.past_refill_hours ?? 0;
      return hours >= 160 ? "Past refill a week" : `Past refill ${span(hours)}`;
    }
    case "water_now":
      return "Water now";
    case "water_soon":
      return answer.start_at ? `Water by ${time.day(new Date(answer.start_at))}` : "Water soon";
    case "holding":
      return answer.start_at ? `Holding to ${time.day(new Date(answer.start_at))}` : "Holding";
    case "brimming":
      return "Brimming";
    case "held":
      return answer.hold ? `Held: ${HOLD_WORDS[answer.hold]}` : "Held";
    case "no_word":
      return answer.last_word_hours === null
        ? "No word"
        : `No word since ${time.day(time.at(answer.last_word_hours))}`;
  }
}

/** The next set that is planned or runs: "planned Thu 06:00 · 24 h · 20 mm"; null without one. */
export function plannedWords(
  sets: Schemas["GivenSet"][],
  time: FarmTime,
  units: UnitSystem,
): string | null {
  const next = sets.find(
    (s) => s.status === "running" || (s.status === "planned" && s.end_hours > 0),
  );
  if (!next) return null;
  const run = runningTime(next.end_hours - next.start_hours);
  const water = waterShort(next.gross_mm, units);
  if (next.status === "running") {
    return `runs until ${time.clock(new Date(next.ends_at))} · ${water}`;
  }
  const start = new Date(next.starts_at);
  return `planned ${time.day(start)} ${time.clock(start)} · ${run} · ${water}`;
}

/** What to do about it: start, hours, gross water. */
export function actionWords(answer: Answer, time: FarmTime, units: UnitSystem): string {
  if (answer.state === "no_word") {
    if (answer.reasons.includes("no_instrument")) return "no instrument yet";
    if (answer.reasons.includes("no_crop_in_season")) return "no crop in the ground";
    if (answer.reasons.includes("surfaces_differ")) return "Kc and ET on different surfaces";
    if (answer.reasons.includes("no_et")) return "no ET stated for the days ahead";
    return "go and look";
  }
  if (!answer.start_at || !answer.amount) return "nothing due for a month";
  const start = new Date(answer.start_at);
  const hours = time.hoursTo(start);
  // A week off, the hour means nothing yet.
  const far = hours > 156;
  const when = hours < 0.5 ? "now" : time.day(start) + (far ? "" : ` ${time.clock(start)}`);
  if (answer.state === "brimming") return `draining; next ${when}`;
  const how = `${runningTime(answer.run?.total_hours ?? answer.amount.hours)} · ${waterShort(answer.amount.gross_mm, units)}`;
  return `${when} · ${how}`;
}
