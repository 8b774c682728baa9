/* Times of day as people type them, on a clock of 24 hours. */

export function isTime(value: string): boolean {
  return /^([01]\d|2[0-3]):[0-5]\d$/.test(value);
}

/** "06:10" of "6:10", "6.10", "0610" or "610"; "18:00" of "18"; null for what is no time. */
export function readTime(text: string): string | null {
  const typed = text.trim();
  const [, hours, minutes] =
    /^(\d{1,2})[:.h ](\d{2})$/.exec(typed) ?? /^(\d{1,2}?)(\d{2})?$/.exec(typed) ?? [];
  if (hours === undefined) return null;
  // One or two digits are hours.
  const whole = minutes === undefined || typed.length <= 2;
  const value = whole ? `${typed.padStart(2, "0")}:00` : `${hours.padStart(2, "0")}:${minutes}`;
  return isTime(value) ? value : null;
}
