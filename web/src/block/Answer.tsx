import { Flex, Heading, Text } from "@chakra-ui/react";
import { StateMark } from "../answer/StateMark";
import type { Answer as Answer_ } from "../answer/types";
import { HOLD_WORDS, stateWords } from "../answer/words";
import { useSignedIn } from "../session/context";
import { REASONS } from "../answer/reasons";
import { span, type FarmTime } from "../time/farmTime";
import { figure, measure, number, runningTime, withUnit } from "../units/format";
import type { BlockData } from "./queries";
import { ASKED, Settle } from "./Settle";

const SURE = {
  good: "fairly sure",
  fair: "less sure than usual",
  low: "unsure",
  none: "",
} as const;

/** How the equipment gives it, where that is more than hours. */
export function runWords(a: Answer_): string {
  const run = a.run;
  if (!run) return "";
  if (run.speed_percent !== null) {
    const turns = run.turns === 1 ? "One turn" : `${run.turns} turns`;
    return `${turns} of ${runningTime(run.turn_hours)} at ${number(run.speed_percent, 0)} % speed.`;
  }
  if (run.sets > 1) {
    return `${run.sets} sets of ${runningTime(run.total_hours / run.sets)}, one after the other.`;
  }
  if (run.pulses > 1) {
    const why = run.runs_off === false ? "spread over the day" : "so that it does not run off";
    const apart = run.pause_hours ? `, ${runningTime(run.pause_hours)} between` : "";
    return `In ${run.pulses} pulses of ${runningTime(run.on_hours)}${apart}, ${why}.`;
  }
  return "";
}

/** Why the block is not to be watered, and until when. */
export function heldWords(block: Pick<BlockData, "holds">, time: FarmTime): string {
  return block.holds
    .map((h) => {
      const until = new Date(h.ends_at);
      const note = h.note ? ` (${h.note})` : "";
      return `No water until ${time.day(until)} ${time.clock(until)}: ${HOLD_WORDS[h.kind]}${note}.`;
    })
    .join(" ");
}

/** The sentence a manager reads first: state, date, hours, water; then what to know about it. */
export function Answer({ block, time }: { block: BlockData; time: FarmTime }) {
  const { units } = useSignedIn();
  const a = block.answer;
  const start = a.start_at ? new Date(a.start_at) : null;
  const now = start !== null && time.hoursTo(start) < 0.5;
  const left = a.days_left;
  const range =
    left && left.expected !== null && left.expected > 0
      ? `Refill ${time.day(time.at(left.expected * 24))}${
          left.dry !== null && left.wet !== null
            ? `, between ${left.dry === 0 ? "now" : time.day(time.at(left.dry * 24))} and ${time.day(time.at(left.wet * 24))}`
            : ""
        }`
      : null;
  return (
    <>
      <Flex align="center" gap="3">
        <StateMark state={a.state} size={26} />
        <Heading
          as="p"
          flex="1"
          size={{ base: "md", md: "lg" }}
          color={a.state === "past_refill" ? "rust" : "ink"}
        >
          {stateWords(a, time)}
          {start &&
            a.amount &&
            `: ${now ? "start now" : `start by ${time.clock(start)} ${time.day(start)}`}, ${runningTime(a.run?.total_hours ?? a.amount.hours)}, ${withUnit(a.amount.gross_mm, units, "water", units === "metric" ? 0 : 2)} gross (${withUnit(a.amount.net_mm, units, "water", units === "metric" ? 0 : 2)} net), ${withUnit(a.amount.volume_m3, units, "volume")}.`}
        </Heading>
      </Flex>
      <Text mt="1">
        {a.deficit_mm !== null &&
          `Deficit ${figure(a.deficit_mm, units, "water")} ± ${withUnit(a.sigma_mm, units, "water")}, ${number((a.used_share ?? 0) * 100, 0)} % of the available water used; roots at ${figure(block.root_mm, units, "depth")} ${measure(units, "depth").label}; use ${withUnit(block.etc_mm_day, units, "waterDay")}. `}
        {range && `${range}. `}
        {a.rain_chance !== null &&
          a.rain_chance >= 0.05 &&
          a.wait_mm !== null &&
          `Rain makes the set needless in ${number(a.rain_chance * 100, 0)} % of the forecasts; three days of waiting leave ${withUnit(a.wait_mm, units, "water")} short on average. `}
        {a.last_word_hours !== null && `Last word ${span(-a.last_word_hours)} ago`}
        {SURE[a.confidence] && `; ${SURE[a.confidence]}`}
        {a.last_word_hours !== null && "."}
      </Text>
      {(runWords(a) || heldWords(block, time)) && (
        <Text>{[runWords(a), heldWords(block, time)].filter(Boolean).join(" ")}</Text>
      )}
      {a.question && <Settle block={block} question={a.question} time={time} />}
      {a.reasons
        .filter((r) => !a.question || !ASKED.has(r))
        .map((r) => (
          <Text key={r} color="inkSoft" fontSize="sm">
            {REASONS[r]}
          </Text>
        ))}
    </>
  );
}
