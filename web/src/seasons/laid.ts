import type { Course } from "./queries";

export type LaidBy = "date" | "days" | "warmth";

export interface Point {
  x: number;
  /** Share of the available water left, in percent. */
  left: number;
  refill: number;
}

const DAY_MS = 86_400_000;
const dayNumber = (date: string) => Math.round(new Date(`${date}T00:00Z`).getTime() / DAY_MS);

/** Days from the beginning of the year of planting. */
function dayOfYear(course: Course, index: number): number {
  return dayNumber(course.first) + index - dayNumber(`${course.planted_on.slice(0, 4)}-01-01`);
}

/** Where a day of a season stands on the axis; null where its warmth is not known. */
function placeOf(course: Course, index: number, by: LaidBy): number | null {
  switch (by) {
    case "date":
      return dayOfYear(course, index);
    case "days":
      return dayNumber(course.first) + index - dayNumber(course.planted_on);
    case "warmth":
      return course.degree_days?.[index] ?? null;
  }
}

/** A season's days on the axis; null where nothing is known, so that no line is drawn through. */
export function laid(course: Course, by: LaidBy): (Point | null)[] {
  return course.depletion_mm.map((depletion, i) => {
    const x = placeOf(course, i, by);
    const taw = course.taw_mm[i];
    const raw = course.raw_mm[i];
    if (x === null || depletion === null || !taw || raw === null || raw === undefined) return null;
    return { x, left: 100 * (1 - depletion / taw), refill: 100 * (1 - raw / taw) };
  });
}

/** First days of months, by days from the beginning of a year. */
export function months(low: number, high: number): { x: number; date: string }[] {
  return Array.from({ length: 24 }, (_, m) => {
    const year = 2025 + Math.floor(m / 12);
    const date = `${year}-${String((m % 12) + 1).padStart(2, "0")}-01`;
    return { x: dayNumber(date) - dayNumber("2025-01-01"), date };
  }).filter(({ x }) => x >= low && x <= high);
}
