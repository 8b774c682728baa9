import type { State } from "../answer/types";
import type { BoardRow } from "./queries";

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
