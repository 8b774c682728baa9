/* Dates as people type and read them; ISO days, "2026-07-14", everywhere else. */

import { locale } from "../language/language";

const ISO = /^(\d{4})-(\d{2})-(\d{2})$/;

function dayOf(year: number, month: number, day: number): Date | null {
  const at = new Date(Date.UTC(year, month - 1, day));
  const same = at.getUTCMonth() === month - 1 && at.getUTCDate() === day;
  return same && year >= 1000 ? at : null;
}

function written(language: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  return new Intl.DateTimeFormat(language, { timeZone: "UTC", ...options });
}

export function isDay(value: string): boolean {
  const [, year, month, day] = ISO.exec(value) ?? [];
  return dayOf(Number(year), Number(month), Number(day)) !== null;
}

/** "14 Jul 2026", or "Jul 14, 2026" where people write it so; what is no day as it stands. */
export function shownDay(value: string, language: string = locale): string {
  if (!isDay(value)) return value;
  return written(language, { day: "numeric", month: "short", year: "numeric" }).format(
    new Date(`${value}T00:00Z`),
  );
}

/** Which of three numbers is the day, by the way people write dates. */
function order(language: string): string[] {
  const parts = written(language, { day: "numeric", month: "numeric", year: "numeric" })
    .formatToParts(new Date(Date.UTC(2026, 6, 14)))
    .map((part) => part.type);
  return parts.filter((type) => type !== "literal");
}

/** A month by its name, or by the first letters of it that no other begins with; 0 for none. */
function monthOf(word: string, language: string): number {
  const months = [...Array(12).keys()].map((k) =>
    written(language, { month: "long" })
      .format(new Date(Date.UTC(2026, k, 1)))
      .toLocaleLowerCase(language),
  );
  const begins = months.filter((name) => name.startsWith(word.toLocaleLowerCase(language)));
  return begins.length === 1 ? months.indexOf(begins[0] ?? "") + 1 : 0;
}

/**
 * The ISO day of what was typed; null where it is none. Taken are ISO days, "14 Jul", "July 14,
 * 2026", and numbers in the order of the language: "14.7.", "14/07/26". Without a year it is in
 * the year given.
 */
export function readDay(text: string, year: number, language: string = locale): string | null {
  const typed = text.trim();
  if (isDay(typed)) return typed;
  const words = typed.match(/\p{L}+/gu) ?? [];
  const numbers = typed.match(/\d+/g) ?? [];
  const wanted = order(language);
  if (words.length > 1 || numbers.length > 3) return null;
  const found: Record<string, number> = { year };
  if (words.length === 1) {
    found["month"] = monthOf(words[0] ?? "", language);
    // A number of four digits is a year wherever it stands.
    const rest = numbers.toSorted((a, b) => a.length - b.length);
    if (rest.length === 0 || rest.length > 2) return null;
    found["day"] = Number(rest[0]);
    if (rest[1]) found["year"] = Number(rest[1]);
  } else {
    const names = numbers.length === 2 ? wanted.filter((name) => name !== "year") : wanted;
    if (numbers.length < 2) return null;
    names.forEach((name, k) => (found[name] = Number(numbers[k])));
  }
  if ((found["year"] ?? 0) < 100) found["year"] = 2000 + (found["year"] ?? 0);
  const at = dayOf(found["year"] ?? 0, found["month"] ?? 0, found["day"] ?? 0);
  return at ? at.toISOString().slice(0, 10) : null;
}
