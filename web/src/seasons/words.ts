import { shownDay } from "../time/enteredDate";
import type { Course } from "./queries";
import { t } from "./t";

/** "Maize, grain 2026, to 13 Jul 2026", the year being that of planting. */
export function courseName(course: Course): string {
  const name = t("seasons.seasonName", {
    crop: course.crop,
    year: course.planted_on.slice(0, 4),
  });
  return course.is_over ? name : t("seasons.stillGrowing", { name, last: shownDay(course.last) });
}
