import { t } from "./t";

/** What is wrong with a text where a number is meant; nothing with an empty one. */
export function notNumber(text: string): string | undefined {
  const typed = text.trim();
  const is = typed === "" || Number.isFinite(Number(typed.replace(",", ".")));
  return is ? undefined : t("form.notNumber", { text: typed });
}
