/* The language of this page: the person's choice on this machine. Another one takes effect when the
   page is loaded again, so texts may be asked for once, wherever they stand. */

export type Language = "en" | "en-XA";

/** Shipped languages by the name each has in itself; accented English proves that every text is in
    the catalogue and has room. */
export const LANGUAGES: Record<Language, string> = {
  en: "English",
  "en-XA": "Pseudo (accented, for testing)",
};

const KEY = "language";
const USUAL: Language = "en";

function isLanguage(text: string | null): text is Language {
  return text !== null && text in LANGUAGES;
}

function chosen(): Language {
  try {
    const kept = localStorage.getItem(KEY);
    return isLanguage(kept) ? kept : USUAL;
  } catch {
    // Storage may be shut off, or this is no browser.
    return USUAL;
  }
}

export const language: Language = chosen();

/** For numbers and dates: English of the person's own region where the browser tells one. */
export const locale: string =
  typeof navigator !== "undefined" && navigator.language?.startsWith("en-")
    ? navigator.language
    : "en-GB";

export function chooseLanguage(next: Language): void {
  localStorage.setItem(KEY, next);
  location.reload();
}
