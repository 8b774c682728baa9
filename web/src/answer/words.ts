/* The answer in the board's fixed words. */

import type { Schemas } from "../api/client";
import { lasting, type FarmTime } from "../time/farmTime";
import { runningTime, waterShort, type UnitSystem } from "../units/format";
import type { Answer } from "./types";
import vocabulary from "../../../server/base/vocabulary.json";
import { t } from "./t";

export type Hold = NonNullable<Answer["hold"]>;

/** Why an irrigation has to wait. */
export const HOLDS = Object.keys(vocabulary.hold) as Hold[];

const EVENING = 18;
const DAYBREAK = 6;

type When = "now" | "tonight" | "today" | "tomorrow";

/** When to start within a day. */
function whenToStart(start: Date, time: FarmTime): When {
  if (time.hoursTo(start) < 1) return "now";
  const hour = time.hour(start);
  const nowHour = time.hour(time.now);
  const today = time.isToday(start);
  const thisEvening = today && hour >= EVENING;
  const beforeDaybreak = hour < DAYBREAK && (!today || nowHour >= EVENING || nowHour < DAYBREAK);
  if (thisEvening || beforeDaybreak) return "tonight";
  return today ? "today" : "tomorrow";
}

interface RegimeWords {
  start: Record<When, string>;
  by: (startDay: string) => string;
  late: (answer: Answer) => string;
}

const SOIL: RegimeWords = {
  start: {
    now: t("state.irrigate_now"),
    tonight: t("answer.irrigateTonight"),
    today: t("answer.irrigateToday"),
    tomorrow: t("answer.irrigateTomorrow"),
  },
  by: (startDay) => t("answer.irrigateBy", { startDay }),
  late: (answer) => {
    const hours = answer.below_refill_hours ?? 0;
    return hours >= 160
      ? t("answer.belowRefillForAWeekOrMore")
      : t("answer.belowRefillFor", { hours: lasting(hours) });
  },
};

/** What each regime calls its water. */
const REGIMES: Record<Answer["regime"], RegimeWords> = {
  above_refill: SOIL,
  leaf_guided: {
    ...SOIL,
    late: (answer) =>
      answer.leaf?.strategy === "band" ? t("answer.belowLeafBand") : SOIL.late(answer),
  },
  deficit: {
    ...SOIL,
    late: (answer) =>
      answer.deficit?.due_mm === null || answer.deficit?.due_mm === undefined
        ? SOIL.late(answer)
        : t("answer.shareOverdue"),
  },
  cut_or_grazed: SOIL,
  ponded: {
    start: {
      now: t("answer.floodNow"),
      tonight: t("answer.floodTonight"),
      today: t("answer.floodToday"),
      tomorrow: t("answer.floodTomorrow"),
    },
    by: (startDay) => t("answer.floodBy", { startDay }),
    late: (answer) =>
      (answer.ponded?.lower_mm ?? 0) >= 0 ? t("answer.tooShallow") : t("answer.belowThreshold"),
  },
};

/** The state in two or three words: "Irrigate by Thu". */
export function stateWords(answer: Answer, time: FarmTime): string {
  const words = REGIMES[answer.regime];
  const start = answer.start_at ? new Date(answer.start_at) : null;
  switch (answer.state) {
    case "below_refill":
      return words.late(answer);
    case "irrigate_now":
      return words.start[start ? whenToStart(start, time) : "now"];
    case "irrigate_soon":
      return start ? words.by(time.day(start)) : t("state.irrigate_soon");
    case "ok":
      return start ? t("answer.okUntil", { startDay: time.day(start) }) : t("state.ok");
    case "above_full":
      return t("state.above_full");
    case "on_hold":
      return answer.hold
        ? t("answer.onHold", { hold: t(`hold.${answer.hold}`) })
        : t("state.on_hold");
    case "finished":
      return t("state.finished");
    case "no_reliable_data":
      return answer.last_reading_hours === null
        ? t("state.no_reliable_data")
        : t("answer.noReliableDataSince", {
            lastWordDay: time.day(time.at(answer.last_reading_hours)),
          });
  }
}

/** The next set that is planned or runs: "scheduled Thu 06:00 · 24 h · 20 mm"; null without one. */
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
    return t("answer.runningUntil", { endsTime: time.clock(new Date(next.ends_at)), water });
  }
  const start = new Date(next.starts_at);
  return t("answer.scheduled", {
    startDay: time.day(start),
    startTime: time.clock(start),
    run,
    water,
  });
}

/** What to do about it: start, hours, gross water. */
export function actionWords(answer: Answer, time: FarmTime, units: UnitSystem): string {
  if (answer.state === "no_reliable_data") {
    if (answer.reasons.includes("no_instrument")) return t("answer.noInstrumentYet");
    if (answer.reasons.includes("no_crop_in_season")) return t("answer.noCropInSeason");
    if (answer.reasons.includes("surfaces_differ"))
      return t("answer.kcAndEtUseDifferentReferenceSurfaces");
    if (answer.reasons.includes("no_et")) return t("answer.noEtForTheDaysAhead");
    return answer.regime === "ponded" ? t("answer.readTheTube") : t("answer.checkTheInstruments");
  }
  if (answer.state === "finished") return t("answer.noMoreThisSeason");
  if (!answer.start_at || !answer.amount) return t("answer.nothingDueForAMonth");
  const start = new Date(answer.start_at);
  const hours = time.hoursTo(start);
  // A week off, the hour means nothing yet.
  const far = hours > 156;
  const when =
    hours < 0.5 ? t("answer.now") : time.day(start) + (far ? "" : ` ${time.clock(start)}`);
  if (answer.state === "above_full") return t("answer.drainingNextIrrigation", { when });
  const how = `${runningTime(answer.run?.total_hours ?? answer.amount.hours)} · ${waterShort(answer.amount.gross_mm, units)}`;
  return `${when} · ${how}`;
}
