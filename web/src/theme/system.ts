import { createSystem, defaultBaseConfig, defineConfig } from "@chakra-ui/react";
import { parts } from "./parts";

/* The one place for colours and faces: chalk paper, dark ink, loam browns, one deep water
   hue, straw for drying, rust for late. */
const config = defineConfig({
  globalCss: {
    "html, body": { bg: "paper", color: "ink", fontVariantNumeric: "tabular-nums" },
    body: { lineHeight: "1.45", fontSize: "15px" },
    "*:focus-visible": { outline: "2px solid", outlineColor: "water", outlineOffset: "2px" },
    a: { color: "inherit" },
    // A block on the plan shows its focus on its own border, not on the box around it.
    ".plan-block:focus-visible": { stroke: "water", strokeWidth: "4px" },
    // On paper: what is to be read there, and not what is pressed or followed.
    "header, .not-printed": { _print: { display: "none !important" } },
    // A wetting shows its focus on its own line.
    ".wetting:focus": { outline: "none" },
    ".wetting:focus-visible .wetting-line": { stroke: "straw", strokeWidth: "4px" },
  },
  theme: {
    tokens: {
      fonts: {
        heading: { value: "'Bitter Variable', Georgia, serif" },
        body: { value: "'Atkinson Hyperlegible Next Variable', Verdana, sans-serif" },
      },
      radii: { l1: { value: "3px" }, l2: { value: "4px" }, l3: { value: "6px" } },
    },
    semanticTokens: {
      colors: {
        paper: { value: { base: "#f6f2e8", _dark: "#171b1b" } },
        sheet: { value: { base: "#fdfbf5", _dark: "#1f2424" } },
        bed: { value: { base: "#ebe3d3", _dark: "#282c29" } },
        bedAhead: { value: { base: "#efeae0", _dark: "#212624" } },
        rule: { value: { base: "#d9cfb9", _dark: "#3a403c" } },
        ink: { value: { base: "#1e292b", _dark: "#ece6d8" } },
        inkSoft: { value: { base: "#645b4c", _dark: "#b3aa98" } },
        water: { value: { base: "#1b6170", _dark: "#6fb9c6" } },
        waterMid: { value: { base: "#5b949d", _dark: "#3f828f" } },
        waterRim: { value: { base: "#b4cfd0", _dark: "#2b545c" } },
        waterDeep: { value: { base: "#0c3f4c", _dark: "#9ad5df" } },
        straw: { value: { base: "#c3902f", _dark: "#d9ab55" } },
        strawInk: { value: { base: "#7d5a12", _dark: "#e3bd74" } },
        loam: { value: { base: "#8a7564", _dark: "#8f7c6b" } },
        rust: { value: { base: "#a03a20", _dark: "#ea8f74" } },
        onInk: { value: { base: "#fdfbf5", _dark: "#171b1b" } },
        // Chakra's own names, so that its parts wear the same clothes.
        bg: {
          DEFAULT: { value: { _light: "#f6f2e8", _dark: "#171b1b" } },
          panel: { value: { _light: "#fdfbf5", _dark: "#1f2424" } },
          subtle: { value: { _light: "#efeae0", _dark: "#212624" } },
          muted: { value: { _light: "#ebe3d3", _dark: "#282c29" } },
          error: { value: { _light: "#f7e3da", _dark: "#3a221b" } },
        },
        fg: {
          DEFAULT: { value: { _light: "#1e292b", _dark: "#ece6d8" } },
          muted: { value: { _light: "#645b4c", _dark: "#b3aa98" } },
          error: { value: { _light: "#a03a20", _dark: "#ea8f74" } },
        },
        border: {
          DEFAULT: { value: { _light: "#cfc4ac", _dark: "#444b46" } },
          error: { value: { _light: "#a03a20", _dark: "#ea8f74" } },
          emphasized: { value: { _light: "#a99b80", _dark: "#6a726c" } },
        },
        gray: {
          border: { value: { _light: "#bfb297", _dark: "#575f59" } },
          solid: { value: { _light: "#1e292b", _dark: "#ece6d8" } },
          contrast: { value: { _light: "#fdfbf5", _dark: "#171b1b" } },
          fg: { value: { _light: "#1e292b", _dark: "#ece6d8" } },
          subtle: { value: { _light: "#ebe3d3", _dark: "#282c29" } },
          muted: { value: { _light: "#e0d6c2", _dark: "#343a36" } },
          emphasized: { value: { _light: "#d5c9b1", _dark: "#414843" } },
          focusRing: { value: { _light: "#1b6170", _dark: "#6fb9c6" } },
        },
      },
    },
  },
});

export const system = createSystem(defaultBaseConfig, parts, config);

/** A colour of the theme for drawing in SVG. */
export function ink(token: string): string {
  return `var(--chakra-colors-${token.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)})`;
}
