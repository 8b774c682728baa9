import { Flex, Heading, Text } from "@chakra-ui/react";
import { StateMark } from "../answer/StateMark";
import type { Answer as Answer_ } from "../answer/types";
import { stateWords } from "../answer/words";
import { useSignedIn } from "../session/context";
import { span, type FarmTime } from "../time/farmTime";
import { levelFigure, levelWords } from "../rice/words";
import { figure, measure, number, runningTime, withUnit, type UnitSystem } from "../units/format";
import type { BlockData } from "./queries";
import { NextSteps } from "./NextSteps";
import { ASKED, Settle } from "./Settle";
import { t } from "./t";

const SURE = {
  good: t("block.fairlyCertain"),
  fair: t("block.lessCertainThanUsual"),
  low: t("block.unsure"),
  none: "",
} as const;

/** How the equipment gives it, where that is more than hours. */
export function runWords(a: Answer_): string {
  const run = a.run;
  if (!run) return "";
  if (run.speed_percent !== null) {
    const turns = run.turns === 1 ? t("block.oneTurn") : t("block.turns", { turns: run.turns });
    return t("block.ofAtSpeed", {
      turns,
      turn: runningTime(run.turn_hours),
      speed: number(run.speed_percent, 0),
    });
  }
  if (run.sets > 1) {
    return t("block.movesOfOneAfterTheOther", {
      sets: run.sets,
      total: runningTime(run.total_hours / run.sets),
    });
  }
  if (run.pulses > 1) {
    const why =
      run.runs_off === false ? t("block.spreadOverTheDay") : t("block.soThatItDoesNotRunOff");
    const apart = run.pause_hours
      ? t("block.between", { pause: runningTime(run.pause_hours) })
      : "";
    return t("block.inPulsesOf", { pulses: run.pulses, on: runningTime(run.on_hours), apart, why });
  }
  return "";
}

/** Why the block is not to be watered, and until when. */
export function heldWords(block: Pick<BlockData, "holds">, time: FarmTime): string {
  return block.holds
    .map((h) => {
      const until = new Date(h.ends_at);
      const note = h.note ? ` (${h.note})` : "";
      return t("block.noIrrigationUntil", {
        untilDay: time.day(until),
        untilTime: time.clock(until),
        kind: t(`hold.${h.kind}`),
        note,
      });
    })
    .join(" ");
}

/** When it starts, where the state has not said so; with the comma that follows. */
function beginWords(a: Answer_, start: Date, time: FarmTime): string {
  if (time.hoursTo(start) >= 0.5) {
    const begin = t("block.startBy", { startTime: time.clock(start), startDay: time.day(start) });
    return `${begin}, `;
  }
  return a.state === "irrigate_now" ? "" : `${t("block.startNow")}, `;
}

type StoreWords = (block: BlockData, units: UnitSystem) => string;

const soilWords: StoreWords = (block, units) =>
  block.answer.deficit_mm === null
    ? ""
    : `${t("block.deficitOfTheAvailableWaterUsedRoots", { deficit: figure(block.answer.deficit_mm, units, "water"), sigma: withUnit(block.answer.sigma_mm, units, "water"), usedShare: number((block.answer.used_share ?? 0) * 100, 0), root: figure(block.root_mm, units, "depth"), label: measure(units, "depth").label, etc: withUnit(block.etc_mm_day, units, "waterDay") })} `;

const leafWords: StoreWords = (block, units) => {
  const leaf = block.answer.leaf;
  if (!leaf) return soilWords(block, units);
  return `${t("block.leafStandsAt", {
    leaf: withUnit(leaf.now.middle, units, "stem"),
    low: figure(leaf.now.low, units, "stem"),
    high: figure(leaf.now.high, units, "stem"),
    upper: figure(leaf.band_upper, units, "stem"),
    lower: withUnit(leaf.band_lower, units, "stem"),
  })} ${soilWords(block, units)}`;
};

/** Where the store stands, in the words of each regime. */
const STORE_WORDS: Record<Answer_["regime"], StoreWords> = {
  above_refill: soilWords,
  leaf_guided: leafWords,
  deficit: soilWords,
  cut_or_grazed: soilWords,
  ponded: (block, units) => {
    const level = block.answer.ponded?.level;
    if (!level) return "";
    return `${t("block.waterStandsLosesADay", {
      level: levelWords(level.middle, units),
      range: t("block.pondedRange", {
        low: levelFigure(level.low, units),
        high: levelFigure(level.high, units),
      }),
      loss: withUnit(block.answer.ponded?.loss_mm_day, units, "water"),
    })} `;
  },
};

/** When the store is down to its lowest point. */
const LOWEST_WORDS: Record<Answer_["regime"], (expectedDay: string, dry: string) => string> = {
  above_refill: (expectedDay, dry) => t("block.refill", { expectedDay, dry }),
  leaf_guided: (expectedDay, dry) => t("block.lowerEdgeReached", { expectedDay, dry }),
  deficit: (expectedDay, dry) => t("block.refillByPlan", { expectedDay, dry }),
  cut_or_grazed: (expectedDay, dry) => t("block.refill", { expectedDay, dry }),
  ponded: (expectedDay, dry) => t("block.lowestLevelReached", { expectedDay, dry }),
};

/** The sentence a manager reads first: state, date, hours, water; then what to know about it. */
export function Answer({ block, time }: { block: BlockData; time: FarmTime }) {
  const { units } = useSignedIn();
  const a = block.answer;
  const start = a.start_at ? new Date(a.start_at) : null;
  const left = a.days_left;
  const range =
    left && left.expected !== null && left.expected > 0
      ? LOWEST_WORDS[a.regime](
          time.day(time.at(left.expected * 24)),
          left.dry !== null && left.wet !== null
            ? t("block.betweenAnd2", {
                dry: left.dry === 0 ? t("block.now") : time.day(time.at(left.dry * 24)),
                wetDay: time.day(time.at(left.wet * 24)),
              })
            : "",
        )
      : null;
  return (
    <>
      <Flex align="center" gap="3">
        <StateMark state={a.state} size={26} />
        <Heading
          as="p"
          flex="1"
          size={{ base: "md", md: "lg" }}
          color={a.state === "below_refill" ? "rust" : "ink"}
        >
          {stateWords(a, time)}
          {start &&
            a.amount &&
            t("block.grossNet", {
              begin: beginWords(a, start, time),
              total: runningTime(a.run?.total_hours ?? a.amount.hours),
              gross: withUnit(a.amount.gross_mm, units, "water", units === "metric" ? 0 : 2),
              net: withUnit(a.amount.net_mm, units, "water", units === "metric" ? 0 : 2),
              volume: withUnit(a.amount.volume_m3, units, "volume"),
            })}
        </Heading>
      </Flex>
      <Text mt="1">
        {STORE_WORDS[a.regime](block, units)}
        {range && `${range}. `}
        {a.rain_chance !== null &&
          a.rain_chance >= 0.05 &&
          a.wait_mm !== null &&
          `${t("block.rainMakesTheIrrigationUnnecessaryIn", { rainChance: number(a.rain_chance * 100, 0), wait: withUnit(a.wait_mm, units, "water") })} `}
        {a.last_reading_hours !== null &&
          `${t("block.lastReadingAgo", { ago: span(-a.last_reading_hours) })} `}
        {SURE[a.confidence]}
      </Text>
      {(runWords(a) || heldWords(block, time)) && (
        <Text>{[runWords(a), heldWords(block, time)].filter(Boolean).join(" ")}</Text>
      )}
      {a.question && <Settle block={block} question={a.question} time={time} />}
      {a.reasons
        .filter((r) => !a.question || !ASKED.has(r))
        .map((r) => (
          <Text key={r} color="inkSoft" fontSize="sm">
            {t(`reason.${r}`)}
          </Text>
        ))}
      <NextSteps block={block} />
    </>
  );
}
