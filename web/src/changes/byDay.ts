/* The entries of the change history as they are read: by day, what repeats itself on one line. */

import { shownDay } from "../time/enteredDate";
import type { FarmTime } from "../time/farmTime";
import type { Change } from "./queries";

export interface Line {
  /** The newest of the entries that the line stands for. */
  change: Change;
  about: string[];
}

export interface Day {
  heading: string;
  lines: Line[];
}

function isRepeated(a: Change, b: Change): boolean {
  const alone = a.can_undo || b.can_undo || a.undone_at !== null || b.undone_at !== null;
  return !alone && a.by === b.by && a.done === b.done && a.at === b.at;
}

/** Entries, newest first (the name of a day's weather is its ISO day), under the day each was made on; what one act did to several things in
 * the same way is one line, unless each of them can be undone. */
export function byDay(changes: readonly Change[], time: FarmTime): Day[] {
  const days: Day[] = [];
  for (const change of changes) {
    const heading = time.weekdayAndDate(new Date(change.at));
    let day = days.at(-1);
    if (day?.heading !== heading) {
      day = { heading, lines: [] };
      days.push(day);
    }
    const last = day.lines.at(-1);
    if (last && isRepeated(last.change, change)) last.about.push(shownDay(change.about));
    else day.lines.push({ change, about: [shownDay(change.about)] });
  }
  return days;
}
