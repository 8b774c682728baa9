/* The answer in the board's fixed words. */

import type { Schemas } from "../api/client";
import { span, type FarmTime } from "../time/farmTime";
import { runningTime, waterShort, type UnitSystem } from "../units/format";
import type { Answer } from "./types";
import { t } from "../language/t";

export type Hold = NonNullable<Answer["hold"]>;

/** Why water has to wait. */
export const HOLD_WORDS: Record<Hold, string> = {
  cutting: t("answer.cutting"),
  drying: t("answer.drying"),
  harvest: t("answer.harvest"),
  spray: t("answer.sprayInterval"),
  fertiliser: t("answer.fertiliserInterval"),
  wind: t("answer.wind"),
  frost: t("answer.frost"),
  no_allocation: t("answer.noAllocation"),
  field_work: t("answer.fieldWork"),
};

/** The state in two or three words: "Water by Thu". */
export function stateWords(answer: Answer, time: FarmTime): string {
  switch (answer.state) {
    case "past_refill": {
      const hours = answer.past_refill_hours ?? 0;
      return hours >= 160
        ? t("answer.pastRefillAWeek")
        : t("answer.pastRefill", { hours: span(hours) });
    }
    case "water_now":
      return t("answer.waterNow");
    case "water_soon":
      return answer.start_at
        ? t("answer.waterBy", { startDay: time.day(new Date(answer.start_at)) })
        : t("answer.waterSoon");
    case "holding":
      return answer.start_at
        ? t("answer.holdingTo", { startDay: time.day(new Date(answer.start_at)) })
        : t("answer.holding");
    case "brimming":
      return t("answer.brimming");
    case "held":
      return answer.hold ? t("answer.held", { hold: HOLD_WORDS[answer.hold] }) : t("answer.held2");
    case "no_word":
      return answer.last_word_hours === null
        ? t("answer.noWord")
        : t("answer.noWordSince", { lastWordDay: time.day(time.at(answer.last_word_hours)) });
  }
}

/** The next set that is planned or runs: "planned Thu 06:00 · 24 h · 20 mm"; null without one. */
export function plannedWords(
  sets: Schemas["GivenSet"][],
  time: FarmTime,
  units: UnitSystem,
): string | null {
  const next = sets.find(
    (s) => s.status === "running" || (s.status === "planned" && s.end_hours > 0),
  );
  if (!next) return null;
  const run = runningTime(next.end_hours - next.start_hours);
  const water = waterShort(next.gross_mm, units);
  if (next.status === "running") {
    return t("answer.runsUntil", { endsTime: time.clock(new Date(next.ends_at)), water });
  }
  const start = new Date(next.starts_at);
  return t("answer.planned", {
    startDay: time.day(start),
    startTime: time.clock(start),
    run,
    water,
  });
}

/** What to do about it: start, hours, gross water. */
export function actionWords(answer: Answer, time: FarmTime, units: UnitSystem): string {
  if (answer.state === "no_word") {
    if (answer.reasons.includes("no_instrument")) return t("answer.noInstrumentYet");
    if (answer.reasons.includes("no_crop_in_season")) return t("answer.noCropInTheGround");
    if (answer.reasons.includes("surfaces_differ")) return t("answer.kcAndEtOnDifferentSurfaces");
    if (answer.reasons.includes("no_et")) return t("answer.noEtStatedForTheDaysAhead");
    return t("answer.goAndLook");
  }
  if (!answer.start_at || !answer.amount) return t("answer.nothingDueForAMonth");
  const start = new Date(answer.start_at);
  const hours = time.hoursTo(start);
  // A week off, the hour means nothing yet.
  const far = hours > 156;
  const when = hours < 0.5 ? "now" : time.day(start) + (far ? "" : ` ${time.clock(start)}`);
  if (answer.state === "brimming") return t("answer.drainingNext", { when });
  const how = `${runningTime(answer.run?.total_hours ?? answer.amount.hours)} · ${waterShort(answer.amount.gross_mm, units)}`;
  return `${when} · ${how}`;
}
