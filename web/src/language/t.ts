/* Every text on screen comes from here, by its key: `t("board.newBlock")`. A text stands in the
   `texts.json` of the feature that shows it, as an ICU message. */

import { createInstance } from "i18next";
import ICU from "i18next-icu";
import { language } from "./language";
import { pseudo } from "./pseudo";
import { texts } from "./texts";

type Texts = typeof texts;
/** "feature.text", of those there are. */
export type TextKey = {
  [Feature in keyof Texts]: `${Feature}.${keyof Texts[Feature] & string}`;
}[keyof Texts];

type Catalogue = Record<string, Record<string, string>>;

function accented(): Catalogue {
  return Object.fromEntries(
    Object.entries(texts as Catalogue).map(([feature, own]) => [
      feature,
      Object.fromEntries(Object.entries(own).map(([key, text]) => [key, pseudo(text)])),
    ]),
  );
}

const catalogue = createInstance();
void catalogue.use(new ICU()).init({
  lng: language,
  fallbackLng: "en",
  // What is asked for while modules load is there by then.
  initAsync: false,
  load: "currentOnly",
  resources:
    language === "en-XA"
      ? { "en-XA": { translation: accented() } }
      : { en: { translation: texts } },
});

/** The text of a key in the person's language, with what is filled in. */
export function t(key: TextKey, values?: Record<string, string | number>): string {
  return catalogue.t(key, values ?? {});
}
