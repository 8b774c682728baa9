/* Calendar days as the server writes them ("2026-07-14"); no clock and no zone in them. */

import { locale } from "../language/language";

const MS = 86_400_000;

function at(day: string): number {
  return Date.parse(`${day}T00:00:00Z`);
}

export function addDays(day: string, days: number): string {
  return new Date(at(day) + days * MS).toISOString().slice(0, 10);
}

export function daysBetween(from: string, to: string): number {
  return Math.round((at(to) - at(from)) / MS);
}

/** "14 Jul", the same in every zone. */
export function shortDay(day: string): string {
  return new Date(at(day)).toLocaleDateString(locale, {
    day: "numeric",
    month: "short",
    timeZone: "UTC",
  });
}
