/* An irrigation on its way over the block, in words. */

import type { Schemas } from "../api/client";
import type { FarmTime } from "../time/farmTime";
import type { SetOut } from "./queries";

export type Going = Schemas["Going"];

export const GOING_WORDS: Record<Going, { choice: string; seen: string }> = {
  forward: { choice: "goes on forward", seen: "" },
  back: { choice: "goes back", seen: ", reversed" },
  stopped: { choice: "stands still", seen: ", stopped" },
};

/** 0.625 as "62.5": of the way over the block. */
export function percent(place: number): string {
  return String(Number((place * 100).toFixed(1)));
}

/** "Now at 62.5 % of the way, ends about Wed 15 July 18:10"; empty where nothing moves. */
export function wayWords(set: SetOut, time: FarmTime): string {
  const { way } = set;
  if (!way) return "";
  const whole = way.place_from === 0 && way.place_to === 1;
  const part = whole ? "" : `${percent(way.place_from)} to ${percent(way.place_to)} % of the way`;
  if (set.status !== "running") return part;
  const last = way.positions.at(-1);
  const stands = last?.going === "stopped";
  const now = `now at ${percent(way.place)} % of the way`;
  const end = stands
    ? `stopped since ${time.full(new Date(last.at))}`
    : `ends about ${time.full(new Date(way.expected_end))}`;
  return [part, now, end].filter(Boolean).join(", ");
}

/** "seen at 20 % Mon 13 July 10:00, stopped" for the newest position. */
export function seenWords(set: SetOut, time: FarmTime): string {
  const last = set.way?.positions.at(-1);
  if (!last) return "";
  return `seen at ${percent(last.place)} % ${time.full(new Date(last.at))}${GOING_WORDS[last.going].seen}`;
}
