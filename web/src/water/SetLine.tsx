import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FieldReports } from "../jobs/FieldReports";
import type { FieldReport } from "../jobs/queries";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime, waterShort, withUnit } from "../units/format";
import { PositionSheet } from "./PositionSheet";
import { useBeginSet, useCancelSet, type SetOut } from "./queries";
import { seenWords, wayWords } from "./way";
import { t } from "./t";

interface Props {
  set: SetOut;
  time: FarmTime;
  /** What was reported of it from the field. */
  reports: FieldReport[];
  end: () => void;
  correct: () => void;
}

const STATUS_WORDS: Record<SetOut["status"], string> = {
  planned: t("water.scheduled"),
  running: t("water.running"),
  done: "",
  cancelled: t("water.cancelled"),
};
const BY_WORDS: Record<SetOut["amount_from"], string> = {
  hours: t("water.byHours"),
  meter: t("water.byMeter"),
  depth: t("water.byDepth"),
};

/** When a set runs: "Mon 13 July 20:00 to 23:00", the second day only where it is another. */
function when(set: SetOut, time: FarmTime): string {
  const start = new Date(set.started_at);
  const end = new Date(set.ended_at);
  const sameDay = time.date(start) === time.date(end);
  return t("water.to", {
    full: time.full(start),
    sameDay: sameDay ? time.clock(end) : time.full(end),
  });
}

/** One set: when, how much, known by what; and what can be done with it, with a thumb. */
export function SetLine({ set, time, reports, end, correct }: Props) {
  const { farm, units, may } = useSignedIn();
  const begin = useBeginSet(farm.slug);
  const cancel = useCancelSet(farm.slug);
  const [looking, setLooking] = useState(false);
  const hours = time.hoursTo(set.ended_at) - time.hoursTo(set.started_at);
  const missed = set.status === "planned" && time.hoursTo(set.ended_at) <= 0;
  const gone = set.status === "cancelled";
  const differs =
    set.status === "done" &&
    set.planned_gross_mm !== null &&
    Math.abs(set.planned_gross_mm - set.gross_mm) > 1;
  const logs = may("log_water");
  const error = begin.error ?? cancel.error;
  return (
    <Box as="li" listStyleType="none" py="2.5" borderBottomWidth="1px" borderColor="rule">
      <Flex justify="space-between" gap="4" align="start" wrap="wrap">
        <Box minW="0" flex="1 1 260px" opacity={gone ? 0.65 : 1}>
          <Text>
            <Text as="span" fontFamily="heading" fontWeight="650">
              {set.block}
            </Text>{" "}
            <Text as="span" textDecoration={gone ? "line-through" : "none"}>
              {t("water.gross", {
                gross: waterShort(set.gross_mm, units),
                hours: runningTime(hours),
                volume: withUnit(set.volume_m3, units, "volume"),
              })}
            </Text>
            {STATUS_WORDS[set.status] && (
              <Text as="span" fontWeight="700">
                {" "}
                · {missed ? t("water.scheduledNotConfirmed") : STATUS_WORDS[set.status]}
              </Text>
            )}
          </Text>
          <Text fontSize="sm" color="inkSoft">
            {[
              when(set, time),
              BY_WORDS[set.amount_from],
              set.share < 1 ? t("water.ofTheBlock", { round: Math.round(set.share * 100) }) : "",
              wayWords(set, time),
              seenWords(set, time),
              differs
                ? t("water.wasScheduled", { plannedGross: waterShort(set.planned_gross_mm, units) })
                : "",
              set.made_by ?? "",
              set.note,
            ]
              .filter(Boolean)
              .join(" · ")}
          </Text>
          <FieldReports reports={reports} time={time} />
        </Box>
        {logs && !gone && (
          <Flex gap="2" wrap="wrap">
            {set.status === "planned" && (
              <Button
                size="sm"
                loading={begin.isPending}
                onClick={() => begin.mutate({ set: set.id, meter: null })}
              >
                {t("water.start")}
              </Button>
            )}
            {(set.status === "running" || missed) && (
              <Button size="sm" onClick={end}>
                {missed ? t("water.itRan") : t("water.end")}
              </Button>
            )}
            {set.way && (set.status === "running" || set.way.positions.length > 0) && (
              <Button size="sm" variant="outline" onClick={() => setLooking(true)}>
                {set.status === "running" ? t("water.recordPosition") : t("water.positions")}
              </Button>
            )}
            <Button size="sm" variant="outline" onClick={correct}>
              {t("water.correct")}
            </Button>
            {(set.status !== "planned" || may("decide")) && (
              <Button
                size="sm"
                variant="ghost"
                loading={cancel.isPending}
                onClick={() => cancel.mutate(set.id)}
              >
                {set.status === "planned" ? t("water.cancel") : t("water.didNotRun")}
              </Button>
            )}
          </Flex>
        )}
      </Flex>
      {error && <Notice error={error} />}
      {looking && <PositionSheet set={set} time={time} close={() => setLooking(false)} />}
    </Box>
  );
}
