/* Every text on screen comes from here, by its key: `t("board.newBlock")`. A text stands in the
   `texts.json` of the feature that shows it, as an ICU message, and is fetched with it. */

import { createInstance } from "i18next";
import ICU from "i18next-icu";
import { language } from "./language";
import { pseudo } from "./pseudo";
import vocabulary from "../../../server/base/vocabulary.json";
import type { Texts } from "./texts";

/** "feature.text", of those there are. */
export type TextKey = {
  [Feature in keyof Texts]: `${Feature}.${keyof Texts[Feature] & string}`;
}[keyof Texts];

const catalogue = createInstance();
void catalogue.use(new ICU()).init({
  lng: language,
  // What is asked for while modules load is there by then.
  initAsync: false,
  load: "currentOnly",
  resources: { [language]: { translation: {} } },
});

/** Take the texts of a feature in; its own `t.ts` does, before any of its modules asks for one. */
export function addTexts(feature: string, own: Record<string, string>): void {
  const texts =
    language === "en-XA"
      ? Object.fromEntries(Object.entries(own).map(([key, text]) => [key, pseudo(text)]))
      : own;
  catalogue.addResourceBundle(language, "translation", { [feature]: texts }, true);
}

for (const [kind, words] of Object.entries(vocabulary)) addTexts(kind, words);

/** The text of a key in the person's language, with what is filled in. */
export function t(key: TextKey, values?: Record<string, string | number>): string {
  return catalogue.t(key, values ?? {});
}
