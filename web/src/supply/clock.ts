/* Hours of the day as a clock shows them. */

/** 6.5 as "06:30"; the end of a day is "24:00". */
export function clockOf(hour: number): string {
  const minutes = Math.round(hour * 60);
  const rest = minutes % 60;
  return `${String((minutes - rest) / 60).padStart(2, "0")}:${String(rest).padStart(2, "0")}`;
}

/** "6", "06:30" or "6.30" as hours; null when it is no time of day. */
export function hourOf(text: string): number | null {
  const found = /^(\d{1,2})(?:[:.h](\d{2}))?$/.exec(text.trim());
  if (!found) return null;
  const hour = Number(found[1]) + Number(found[2] ?? 0) / 60;
  return hour <= 24 && Number(found[2] ?? 0) < 60 ? hour : null;
}
