import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import texts from "./texts.json";
import { TERMS } from "./terms";

const page = readFileSync(join(import.meta.dirname, "../../../docs/glossary.md"), "utf8");

describe("the glossary", () => {
  it.each(Object.entries(TERMS))("has a line in the docs like on screen: %s", (key, term) => {
    const name = texts[`${key}Name` as keyof typeof texts];
    const meaning = texts[`${key}Meaning` as keyof typeof texts];
    expect(page).toContain(`| ${name} | ${term.symbol} | ${term.unit} | ${meaning} |`);
  });

  it("has no other lines in the docs", () => {
    const lines = page.split("\n").filter((line) => line.startsWith("| "));
    expect(lines).toHaveLength(Object.keys(TERMS).length + 1);
  });
});
