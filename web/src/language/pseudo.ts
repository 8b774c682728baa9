/* Accented English, a third longer: what is still plain on screen is in no catalogue, and what breaks
   here would break in a longer language. */

import {
  isArgumentElement,
  isLiteralElement,
  isPluralElement,
  isPoundElement,
  isSelectElement,
  parse,
  type MessageFormatElement,
} from "@formatjs/icu-messageformat-parser";

const ACCENTED: Record<string, string> = {
  a: "á",
  c: "ç",
  d: "ð",
  e: "é",
  g: "ĝ",
  h: "ĥ",
  i: "í",
  j: "ĵ",
  k: "ķ",
  l: "ļ",
  n: "ñ",
  o: "ó",
  r: "ŕ",
  s: "š",
  t: "ţ",
  u: "ú",
  w: "ŵ",
  y: "ý",
  z: "ž",
  A: "Á",
  B: "Ɓ",
  C: "Ç",
  D: "Ð",
  E: "É",
  G: "Ĝ",
  H: "Ĥ",
  I: "Í",
  J: "Ĵ",
  K: "Ķ",
  L: "Ļ",
  N: "Ñ",
  O: "Ó",
  P: "Þ",
  R: "Ŕ",
  S: "Š",
  T: "Ţ",
  U: "Ú",
  W: "Ŵ",
  Y: "Ý",
  Z: "Ž",
};
const LONGER = 0.34;

/** A word accented, and a third longer by its own last vowel. */
function longer(text: string): string {
  return text.replaceAll(/[A-Za-z]+/g, (word) => {
    const accented = word.replaceAll(/./g, (letter) => ACCENTED[letter] ?? letter);
    const more = word.length > 2 ? Math.ceil(word.length * LONGER) : 0;
    return accented + "~".repeat(more);
  });
}

function quoted(text: string): string {
  return text.replaceAll(/[{}]/g, (brace) => `'${brace}'`);
}

function printed(elements: MessageFormatElement[]): string {
  return elements
    .map((element) => {
      if (isLiteralElement(element)) return quoted(longer(element.value));
      if (isArgumentElement(element)) return `{${element.value}}`;
      if (isPoundElement(element)) return "#";
      if (isSelectElement(element) || isPluralElement(element)) {
        const kind = isSelectElement(element) ? "select" : "plural";
        const choices = Object.entries(element.options).map(
          ([when, choice]) => `${when} {${printed(choice.value)}}`,
        );
        return `{${element.value}, ${kind}, ${choices.join(" ")}}`;
      }
      throw new Error(`a message has a part that nothing here writes: ${JSON.stringify(element)}`);
    })
    .join("");
}

/** A message of the catalogue in accented English; what is filled in stays as it is. */
export function pseudo(message: string): string {
  return printed(parse(message, { ignoreTag: true }));
}
