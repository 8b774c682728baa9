/* An irrigation on its way over the block, in words. */

import type { Schemas } from "../api/client";
import type { FarmTime } from "../time/farmTime";
import type { SetOut } from "./queries";
import { t } from "./t";

export type Going = Schemas["Going"];

export const GOING_WORDS: Record<Going, { choice: string; seen: string }> = {
  forward: { choice: t("water.movesForward"), seen: "" },
  back: { choice: t("water.movesBack"), seen: t("water.reversed") },
  stopped: { choice: t("water.standsStill"), seen: t("water.stopped") },
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
  const part = whole
    ? ""
    : t("water.toOfThePath", { percent: percent(way.place_from), percent2: percent(way.place_to) });
  if (set.status !== "running") return part;
  const last = way.positions.at(-1);
  const stands = last?.going === "stopped";
  const now = t("water.nowAtOfThePath", { percent: percent(way.place) });
  const end = stands
    ? t("water.stoppedSince", { full: time.full(new Date(last.at)) })
    : t("water.endsAbout", { full: time.full(new Date(way.expected_end)) });
  return [part, now, end].filter(Boolean).join(", ");
}

/** "seen at 20 % Mon 13 July 10:00, stopped" for the newest position. */
export function seenWords(set: SetOut, time: FarmTime): string {
  const last = set.way?.positions.at(-1);
  if (!last) return "";
  return t("water.seenAt", {
    percent: percent(last.place),
    full: time.full(new Date(last.at)),
    seen: GOING_WORDS[last.going].seen,
  });
}
