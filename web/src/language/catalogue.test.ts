/* The catalogue against the code that asks for its texts. */

import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import {
  isArgumentElement,
  isPluralElement,
  isSelectElement,
  parse,
  type MessageFormatElement,
} from "@formatjs/icu-messageformat-parser";
import ts from "typescript";
import { describe, expect, it } from "vitest";
import { pseudo } from "./pseudo";
import vocabulary from "../../../server/base/vocabulary.json";
import type { Texts } from "./texts";

const SOURCE = join(import.meta.dirname, "..");
const features = readdirSync(SOURCE).filter((name) => existsSync(join(SOURCE, name, "texts.json")));
const texts: Record<string, Record<string, string>> = {
  ...Object.fromEntries(features.map((name) => [name, textsOf(name)])),
  ...vocabulary,
};

function textsOf(feature: string): Record<string, string> {
  return JSON.parse(readFileSync(join(SOURCE, feature, "texts.json"), "utf8")) as Texts["app"];
}

const messages = new Map<string, string>(
  Object.entries(texts).flatMap(([feature, own]) =>
    Object.entries(own).map(([key, text]) => [`${feature}.${key}`, text] as const),
  ),
);

/** What a message wants filled in. */
function wanted(elements: MessageFormatElement[], into = new Set<string>()): Set<string> {
  for (const element of elements) {
    if (isArgumentElement(element)) into.add(element.value);
    if (isSelectElement(element) || isPluralElement(element)) {
      into.add(element.value);
      for (const choice of Object.values(element.options)) wanted(choice.value, into);
    }
  }
  return into;
}

interface Asked {
  key: string;
  values: string[];
  where: string;
}

function sources(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return sources(path);
    return /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$/.test(name) ? [path] : [];
  });
}

/** Vocabularies that are asked for name by name. */
const whole = new Set<string>();

/** Every `t(...)` in a file. */
function askedIn(path: string): Asked[] {
  const kind = path.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const file = ts.createSourceFile(
    path,
    readFileSync(path, "utf8"),
    ts.ScriptTarget.Latest,
    true,
    kind,
  );
  const found: Asked[] = [];
  const visit = (node: ts.Node) => {
    if (ts.isCallExpression(node) && node.expression.getText() === "t") {
      const [key, values] = node.arguments;
      // A key made of a vocabulary and one of its names has all of them, by type.
      if (key && ts.isTemplateExpression(key)) whole.add(key.head.text.replace(/\.$/, ""));
      if (key && ts.isStringLiteral(key)) {
        const names =
          values && ts.isObjectLiteralExpression(values)
            ? values.properties.map((p) => p.name?.getText() ?? "...")
            : [];
        const { line } = file.getLineAndCharacterOfPosition(node.getStart());
        found.push({ key: key.text, values: names, where: `${path}:${line + 1}` });
      }
    }
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

const asked = sources(SOURCE).flatMap(askedIn);

describe("the catalogue", () => {
  it("has every text that is asked for, and no other", () => {
    const keys = new Set(asked.map((a) => a.key));
    expect(asked.length).toBeGreaterThan(1000);
    expect(
      [...messages.keys()].filter((key) => !keys.has(key) && !whole.has(key.split(".")[0] ?? "")),
    ).toEqual([]);
    expect(asked.filter((a) => !messages.has(a.key))).toEqual([]);
  });

  it("gives each text what it wants filled in, and nothing else", () => {
    const wrong = asked.filter((a) => {
      const names = wanted(parse(messages.get(a.key) ?? "", { ignoreTag: true }));
      return a.values.toSorted().join() !== [...names].toSorted().join();
    });
    expect(wrong).toEqual([]);
  });

  it("is asked through the feature whose texts they are", () => {
    const elsewhere = asked.filter(
      (a) =>
        features.includes(a.key.split(".")[0] ?? "") &&
        !a.where.includes(`/${a.key.split(".")[0]}/`),
    );
    expect(elsewhere).toEqual([]);
  });

  it("writes a text once in a feature", () => {
    for (const [feature, own] of Object.entries(texts)) {
      const values = whole.has(feature) ? [] : Object.values(own);
      expect(values.filter((text, k) => values.indexOf(text) !== k)).toEqual([]);
    }
  });
});

describe("accented English", () => {
  it("accents what is written and leaves what is filled in", () => {
    expect(pseudo("{count, plural, one {# block} other {# blocks}} by {day}")).toBe(
      "{count, plural, one {# ƀļóçķ~~} other {# ƀļóçķš~~~}} ƀý {day}".replaceAll("ƀ", "b"),
    );
  });

  it("is a third longer", () => {
    expect(pseudo("Irrigation")).toBe("Íŕŕíĝáţíóñ~~~~");
  });

  it("can be made of every text", () => {
    for (const text of messages.values()) {
      expect(parse(pseudo(text), { ignoreTag: true })).toHaveLength(
        parse(text, { ignoreTag: true }).length,
      );
    }
  });
});
