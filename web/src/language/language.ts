/* The language of this page: `?language=en-XA` in the address chooses one for this browser. Another
   one takes effect as the page is loaded, so texts may be asked for once, wherever they stand. */

export type Language = "en" | "en-XA";

/** Accented English proves that every text is in the catalogue and has room. */
const LANGUAGES = new Set<string>(["en", "en-XA"] satisfies Language[]);
const KEY = "language";
const USUAL: Language = "en";

function isLanguage(text: string | null): text is Language {
  return text !== null && LANGUAGES.has(text);
}

function chosen(): Language {
  // Without a page there is nobody who could choose.
  if (typeof document === "undefined") return USUAL;
  const asked = new URLSearchParams(location.search).get(KEY);
  try {
    if (isLanguage(asked)) localStorage.setItem(KEY, asked);
    const kept = localStorage.getItem(KEY);
    return isLanguage(kept) ? kept : USUAL;
  } catch {
    // Storage may be shut off.
    return isLanguage(asked) ? asked : USUAL;
  }
}

export const language: Language = chosen();

// The server answers in it too: errors, cautions, checklists, and the pages it prints.
if (typeof document !== "undefined") {
  document.cookie = `language=${language.toLowerCase()}; path=/; max-age=31536000; SameSite=Strict`;
}

/** For numbers and dates: the person's own kind of English where the browser tells one. */
export const locale: string =
  typeof document !== "undefined" && navigator.language.startsWith("en-")
    ? navigator.language
    : "en-GB";
