import type { State } from "../answer/types";
import type { BoardRow } from "./queries";
import { t } from "./t";

const URGENT: readonly State[] = ["below_refill", "irrigate_now", "irrigate_soon"];

/** The board's first sentence. */
export function headline(rows: BoardRow[]): string {
  const late = rows.filter((r) => r.answer.state === "below_refill").length;
  const now = rows.filter((r) => r.answer.state === "irrigate_now").length;
  const silent = rows.filter((r) => r.answer.state === "no_reliable_data").length;
  if (!rows.some((r) => URGENT.includes(r.answer.state))) {
    return silent > 0
      ? t("board.nothingIsDueInTheNextThree", { silent })
      : t("board.nothingIsDueInTheNextThree2");
  }
  const first =
    late + now === 0
      ? t("board.nothingIsDueToday")
      : t("board.irrigationWithinADay", { late: late + now });
  if (late + now === 0) return first;
  const parts = [first];
  if (late > 0) parts.push(t("board.late", { late }));
  if (silent > 0) parts.push(t("board.noReliableData", { silent }));
  return `${parts.join("; ")}.`;
}

/** Running hours of what is due within a day. */
export function hoursDue(rows: BoardRow[]): number {
  return rows
    .filter((r) => r.answer.state === "below_refill" || r.answer.state === "irrigate_now")
    .reduce((sum, r) => sum + (r.answer.amount?.hours ?? 0), 0);
}
