/* The answer in the board's fixed words. */

import { span, type FarmTime } from "../time/farmTime";
import { runningTime, waterShort, type UnitSystem } from "../units/format";
import type { Answer, BoardRow, State } from "./queries";

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
    case "no_word":
      return answer.last_word_hours === null
        ? "No word"
        : `No word since ${time.day(time.at(answer.last_word_hours))}`;
  }
}

/** What to do about it: start, hours, gross water. */
export function actionWords(answer: Answer, time: FarmTime, units: UnitSystem): string {
  if (answer.state === "no_word") {
    if (answer.reasons.includes("no_instrument")) return "no instrument yet";
    if (answer.reasons.includes("no_crop_in_season")) return "no crop in the ground";
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
  const how = `${runningTime(answer.amount.hours)} · ${waterShort(answer.amount.gross_mm, units)}`;
  return `${when} · ${how}`;
}

const URGENT: readonly State[] = ["past_refill", "water_now", "water_soon"];

/** The board's first sentence. */
export function headline(rows: BoardRow[]): string {
  const late = rows.filter((r) => r.answer.state === "past_refill").length;
  const now = rows.filter((r) => r.answer.state === "water_now").length;
  const silent = rows.filter((r) => r.answer.state === "no_word").length;
  if (!rows.some((r) => URGENT.includes(r.answer.state))) {
    return silent > 0
      ? `Nothing is due in three days; ${silent} without a word.`
      : "Nothing is due in three days.";
  }
  const first =
    late + now === 0
      ? "Nothing is due today."
      : `${late + now} ${late + now === 1 ? "block wants" : "blocks want"} water within a day`;
  if (late + now === 0) return first;
  const parts = [first];
  if (late > 0) parts.push(`${late} ${late === 1 ? "is" : "are"} late`);
  if (silent > 0) parts.push(`${silent} ${silent === 1 ? "has" : "have"} no word`);
  return `${parts.join("; ")}.`;
}

/** Running hours of what is due within a day. */
export function hoursDue(rows: BoardRow[]): number {
  return rows
    .filter((r) => r.answer.state === "past_refill" || r.answer.state === "water_now")
    .reduce((sum, r) => sum + (r.answer.amount?.hours ?? 0), 0);
}
