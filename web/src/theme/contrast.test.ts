import { describe, expect, it } from "vitest";
import { system } from "./system";

/** WCAG 2.2, relative luminance and contrast ratio. */
function luminance(hex: string): number {
  const channel = (at: number) => {
    const c = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  };
  return 0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5);
}

function contrast(a: string, b: string): number {
  const [low = 0, high = 0] = [luminance(a), luminance(b)].toSorted((x, y) => x - y);
  return (high + 0.05) / (low + 0.05);
}

function colour(name: string, theme: "light" | "dark"): string {
  const token = system.tokens.getByName(`colors.${name}`);
  const conditions = (token?.extensions["conditions"] ?? {}) as Partial<Record<string, string>>;
  const light = conditions["_light"] ?? conditions["base"];
  const found = theme === "dark" ? conditions["_dark"] : light;
  if (!found) throw new Error(`no colour ${name} in ${theme}`);
  return found;
}

// Ground, what is written or drawn on it, and the least contrast: 4.5 for text, 3 for shapes.
const PAIRS: [string, string, number][] = [
  ["paper", "ink", 4.5],
  ["paper", "inkSoft", 4.5],
  ["paper", "rust", 4.5],
  ["paper", "water", 4.5],
  ["sheet", "ink", 4.5],
  ["sheet", "inkSoft", 4.5],
  ["bed", "ink", 4.5],
  ["bedAhead", "inkSoft", 4.5],
  ["bg.error", "fg.error", 4.5],
  ["ink", "onInk", 4.5],
  ["bed", "water", 3],
  ["bedAhead", "water", 3],
  ["bed", "rust", 3],
];

describe.each(["light", "dark"] as const)("the %s theme can be read", (theme) => {
  it.each(PAIRS)("%s under %s: at least %d", (ground, mark, least) => {
    expect(contrast(colour(ground, theme), colour(mark, theme))).toBeGreaterThanOrEqual(least);
  });
});

describe("contrast", () => {
  it("is 21 between black and white", () => {
    expect(contrast("#000000", "#ffffff")).toBeCloseTo(21);
    expect(contrast("#777777", "#777777")).toBe(1);
  });
});
