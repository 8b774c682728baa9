import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { actionWords, stateWords } from "../answer/words";
import { Notice } from "../app/Notice";
import type { BlockData } from "../block/queries";
import { Axis } from "../board/Axis";
import { Ribbon } from "../board/Ribbon";
import { useWidth } from "../draw/useWidth";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSettled } from "../form/useSettled";
import { REFILL_METHOD_NAMES } from "../limits/words";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import type { Schemas } from "../api/client";
import { measure, runningTime, waterShort, withUnit } from "../units/format";
import { asItIs, isOther, LONGEST_DAYS, whatIfIn } from "./assumed";
import { useWhatIf } from "./queries";
import { Slide } from "../form/Slide";
import { t } from "./t";

const DecideSheet = lazy(() =>
  import("../decide/DecideSheet").then((found) => ({ default: found.DecideSheet })),
);

const ESTIMATES_FROM: Record<Schemas["EstimateFrom"], string> = {
  combined: t("whatif.sensorsAndWaterBalance"),
  sensors: t("whatif.sensorsOnly"),
  balance: t("whatif.waterBalanceOnly"),
};

interface Props {
  block: BlockData;
  time: FarmTime;
}

/** Change an assumption and see the furrow move; nothing is saved until a set is planned. */
export default function WhatIf({ block, time }: Props) {
  const { farm, units, may } = useSignedIn();
  const begin = useMemo(
    () => asItIs(block, block.answer.start_at ? time.hoursTo(block.answer.start_at) : null),
    [block, time],
  );
  const [a, setA] = useState(begin);
  const [planning, setPlanning] = useState(false);
  const [measured, width] = useWidth();
  const body = useSettled(whatIfIn(a, units), 40);
  const tried = useWhatIf(farm.slug, block.id, body);
  const change = (part: Partial<typeof a>) => setA({ ...a, ...part });
  const found = tried.data;
  const start = time.at(a.startHours);
  const rate = block.answer.amount
    ? block.answer.amount.gross_mm / block.answer.amount.hours
    : null;

  const furrow = useMemo(() => {
    const done = block.sets.filter((s) => s.status === "done");
    const ahead = a.set
      ? [
          {
            id: 0,
            status: "planned" as const,
            starts_at: time.at(a.startHours).toISOString(),
            ends_at: time.at(a.startHours + a.runHours).toISOString(),
            start_hours: a.startHours,
            end_hours: a.startHours + a.runHours,
            gross_mm: (rate ?? 0) * a.runHours,
          },
        ]
      : block.sets.filter((s) => s.status !== "done");
    return {
      past: block.past,
      ahead: found?.ahead ?? block.ahead,
      answer: found?.answer ?? block.answer,
      sets: [...done, ...ahead],
    };
  }, [block, found, a.set, a.startHours, a.runHours, rate, time]);

  return (
    <Box
      as="section"
      aria-labelledby="what-if"
      mt="4"
      p="4"
      bg="sheet"
      borderWidth="1px"
      borderColor="rule"
    >
      <Flex justify="space-between" align="baseline" gap="4" wrap="wrap">
        <Heading as="h2" id="what-if" size="lg">
          {t("whatif.whatIf")}
        </Heading>
        {isOther(a) && (
          <Button size="xs" variant="ghost" onClick={() => setA(begin)}>
            {t("whatif.asItIs")}
          </Button>
        )}
      </Flex>
      <Box ref={measured} mt="2">
        {width > 0 && (
          <>
            <Axis width={width} time={time} rain={[]} rainAhead={[]} units={units} />
            <Ribbon row={furrow} width={width} height={84} time={time} units={units} />
          </>
        )}
      </Box>
      <Text role="status" mt="1">
        <Text as="span" fontWeight="700">
          {stateWords(furrow.answer, time)}
        </Text>{" "}
        · {actionWords(furrow.answer, time, units)}
        {furrow.answer.drained_mm !== null &&
          furrow.answer.drained_mm >= 0.5 &&
          ` ${t("whatif.drainsBelowTheRoots", { drained: withUnit(furrow.answer.drained_mm, units, "water") })}`}
        {found?.raw_mm !== null &&
          found?.raw_mm !== undefined &&
          ` ${t("whatif.raw", { raw: withUnit(found.raw_mm, units, "water") })}`}
      </Text>
      {tried.error && <Notice error={tried.error} />}
      <Grid
        mt="3"
        columnGap="6"
        rowGap="3"
        templateColumns={{ base: "1fr", md: "1fr 1fr", xl: "1fr 1fr 1fr" }}
      >
        <Box>
          <Tick
            label={t("whatif.irrigationIsApplied")}
            on={a.set}
            change={(set) => change({ set })}
          />
          <Slide
            label={t("whatif.start")}
            words={`${time.day(start)} ${time.clock(start)}`}
            min={0}
            max={24 * LONGEST_DAYS}
            step={1}
            value={a.startHours}
            change={(startHours) => change({ startHours, set: true })}
          />
          <Slide
            label={t("whatif.runningTime")}
            words={`${runningTime(a.runHours)}${rate ? ` · ${waterShort(rate * a.runHours, units)}` : ""}`}
            min={0.5}
            max={Math.max(24, Math.ceil(begin.runHours * 2))}
            step={0.5}
            value={a.runHours}
            change={(runHours) => change({ runHours, set: true })}
          />
        </Box>
        <Box>
          <Tick
            label={t("whatif.rainFallsAllOnOneDay")}
            on={a.rain}
            change={(rain) => change({ rain })}
          />
          <Slide
            label={t("whatif.day")}
            words={time.day(time.at(a.rainDay * 24))}
            min={0}
            max={LONGEST_DAYS - 1}
            step={1}
            value={a.rainDay}
            change={(rainDay) => change({ rainDay, rain: true })}
          />
          <Slide
            label={t("whatif.amount")}
            words={waterShort(a.rainMm, units)}
            min={0}
            max={60}
            step={1}
            value={a.rainMm}
            change={(rainMm) => change({ rainMm, rain: true })}
          />
        </Box>
        <Box>
          <Text fontSize="sm" fontWeight="500">
            {t("whatif.etOfTheDaysAhead")}
          </Text>
          <Slide
            label={t("whatif.ofTheExpectedEt")}
            words={`${a.etPercent} %`}
            min={50}
            max={160}
            step={5}
            value={a.etPercent}
            change={(etPercent) => change({ etPercent })}
          />
          <Line
            label={t("whatif.roomLeftForRain")}
            unit={measure(units, "water").label}
            numeric
            value={a.room}
            placeholder={t("whatif.asSet")}
            change={(room) => change({ room })}
          />
        </Box>
        <Choice
          label={t("whatif.cropStageSeen")}
          value={a.stage}
          change={(stage) => change({ stage })}
        >
          <option value="">{t("whatif.byTheCalendar")}</option>
          {block.stages.map((s) => (
            <option key={s.key} value={s.key}>
              {s.name}
            </option>
          ))}
        </Choice>
        <Choice
          label={t("whatif.refillPointBy")}
          value={a.refill_method}
          change={(method) => change({ refill_method: method })}
        >
          <option value="">{t("whatif.theMethodInForce")}</option>
          {Object.entries(REFILL_METHOD_NAMES).map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Choice>
        <Choice
          label={t("whatif.estimateFrom")}
          value={a.estimate_from}
          change={(from) => change({ estimate_from: from })}
        >
          <option value="">{t("whatif.asSet")}</option>
          {Object.entries(ESTIMATES_FROM).map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Choice>
      </Grid>
      {may("decide") && a.set && !block.decision && (
        <Button size="sm" mt="3" onClick={() => setPlanning(true)}>
          {t("whatif.scheduleThisIrrigation")}
        </Button>
      )}
      {planning && (
        <Suspense fallback={null}>
          <DecideSheet
            block={block}
            time={time}
            start="changed"
            wanted={{ start: a.startHours, hours: a.runHours }}
            close={() => setPlanning(false)}
          />
        </Suspense>
      )}
    </Box>
  );
}
