import type { FarmTime } from "../time/farmTime";
import type { Round } from "./queries";
import { t } from "./t";

/** When a round was last walked and when it is due. */
export function dueWord(round: Round, time: FarmTime): string {
  if (round.last_at === null) return t("rounds.notDoneYet");
  const since = -time.hoursTo(round.last_at) / 24;
  const last = t("rounds.last", { lastDay: time.day(new Date(round.last_at)) });
  const left = round.every_days - since;
  if (left < 0) return t("rounds.overdue", { last });
  return left < 1
    ? t("rounds.dueToday", { last })
    : t("rounds.dueInD", { last, floor: Math.floor(left) });
}

/** The list with an entry moved one place up or down. */
export function moved<T>(list: T[], from: number, by: -1 | 1): T[] {
  const to = from + by;
  const one = list[from];
  if (one === undefined || to < 0 || to >= list.length) return list;
  return list.toSpliced(from, 1).toSpliced(to, 0, one);
}
