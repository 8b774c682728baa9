/* How line plots look: one face, soft axes, a tone and a dash for each depth. */
import type { FarmTime } from "../time/farmTime";

export const DASHES = [[], [8, 3], [2, 3], [10, 3, 2, 3], [5, 5], [1, 4]];
export const TONES = ["straw", "water", "loam", "rust", "water-mid", "ink"];
export const FACE = "12px 'Atkinson Hyperlegible Next Variable', Verdana, sans-serif";

/** A colour of the theme for a canvas. */
export function colour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`);
}

export function axisInk() {
  const rule = colour("rule");
  return {
    stroke: colour("ink-soft"),
    grid: { stroke: rule, width: 1 },
    ticks: { stroke: rule, width: 1 },
    font: FACE,
  };
}

function shortDate(date: string): string {
  return date.replace(/(\w{3})\w+$/, "$1");
}

/** A day's name at midnight, the hour between. */
export function timeTicks(time: FarmTime, ticks: number[]): string[] {
  return ticks.map((seconds) => {
    const at = new Date(seconds * 1000);
    const clock = time.clock(at);
    return clock === "00:00" ? shortDate(time.date(at)) : clock;
  });
}
