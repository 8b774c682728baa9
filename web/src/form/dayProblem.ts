import { isDay, shownDay } from "../time/enteredDate";
import { t } from "./t";

/** A day as the reader writes it, to show how. */
export const EXAMPLE_DAY = shownDay("2026-07-14");

/** What is wrong with what was typed as a day; nothing, also where nothing was typed. */
export function dayProblem(value: string): string | undefined {
  if (value === "" || isDay(value)) return undefined;
  return t("form.enterADay", { example: EXAMPLE_DAY });
}
