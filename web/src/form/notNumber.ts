import { t } from "./t";

/** A comma before three digits: of thousands to some, the decimal mark to others. */
const TWO_WAYS = /^[1-9]\d{0,2},\d{3}$/;

/** What is wrong with a text where a number is meant; nothing with an empty one. */
export function notNumber(text: string): string | undefined {
  const typed = text.trim();
  if (TWO_WAYS.test(typed))
    return t("form.twoWays", {
      text: typed,
      large: typed.replace(",", ""),
      small: typed.replace(",", "."),
    });
  const is = typed === "" || Number.isFinite(Number(typed.replace(",", ".")));
  return is ? undefined : t("form.notNumber", { text: typed });
}
