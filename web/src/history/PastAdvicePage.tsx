import { Box, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { useMemo } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import type { Answer } from "../answer/types";
import { DayTable } from "../block/DayTable";
import { Deficits } from "../block/Deficits";
import { LayerTable } from "../block/LayerTable";
import { RefillMethods } from "../block/RefillMethods";
import { Working } from "../block/Working";
import { decisionWords } from "../decide/words";
import { useSignedIn } from "../session/context";
import { FarmTime, span } from "../time/farmTime";
import { number, runningTime, waterShort, withUnit, type UnitSystem } from "../units/format";
import { Assumptions } from "./Assumptions";
import { usePastAdvice, type PastAdvice } from "./queries";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

/** One morning's advice as it was given, beside what the same morning would be told today. */
export function PastAdvicePage() {
  const { block: id, advice } = useParams();
  const { farm } = useSignedIn();
  const found = usePastAdvice(farm.slug, Number(id), Number(advice));
  if (found.isPending) return <Loading what={t("history.loadingThatMorning")} />;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  return <Morning advice={found.data} here={`/${farm.slug}/blocks/${id}`} />;
}

function Morning({ advice, here }: { advice: PastAdvice; here: string }) {
  const time = useMemo(() => new FarmTime(advice.made_at, advice.time_zone), [advice]);
  const { working } = advice;
  return (
    <Box maxW="1500px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`${here}/history`}>{t("history.pastAdvice2", { block: advice.block })}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700">
        {advice.block}, {time.full(time.now)}
      </Heading>
      {advice.decisions.map((d) => (
        <Text key={d.id}>{decisionWords(d)}.</Text>
      ))}
      <ThenAndNow advice={advice} time={time} />
      <AtHand advice={advice} time={time} />
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 350px" }}
        columnGap="8"
        mt="4"
      >
        <Box minW="0">
          <LayerTable layers={working.layers} time={time} />
          <DayTable days={working.days} time={time} />
          <Assumptions advice={advice} />
        </Box>
        <Box minW="0">
          <Deficits estimates={working.estimates} limits={null} time={time} />
          <Working steps={working.steps} />
          <RefillMethods methods={working.refill_methods} time={time} />
        </Box>
      </Grid>
    </Box>
  );
}

interface Line {
  name: string;
  of: (a: Answer, time: FarmTime, units: UnitSystem) => string;
}

const LINES: Line[] = [
  { name: t("history.state"), of: (a) => t(`state.${a.state}`) },
  {
    name: t("history.latestStart"),
    of: (a, time) =>
      a.start_at
        ? `${time.day(new Date(a.start_at))} ${time.clock(new Date(a.start_at))}`
        : t("history.noneInSight"),
  },
  { name: t("history.runningTime"), of: (a) => runningTime(a.run?.total_hours ?? a.amount?.hours) },
  { name: t("history.gross"), of: (a, _, u) => waterShort(a.amount?.gross_mm, u) },
  { name: t("history.deficit"), of: (a, _, u) => withUnit(a.deficit_mm, u, "water") },
  { name: t("history.standardDeviation"), of: (a, _, u) => withUnit(a.sigma_mm, u, "water") },
  { name: t("history.waterLeftAboveRefill"), of: (a, _, u) => withUnit(a.usable_mm, u, "water") },
];

function ThenAndNow({ advice, time }: { advice: PastAdvice; time: FarmTime }) {
  const { units } = useSignedIn();
  const rows = LINES.map((l) => ({
    name: l.name,
    given: l.of(advice.answer, time, units),
    today: l.of(advice.now_says, time, units),
  }));
  const same = rows.every((r) => r.given === r.today);
  return (
    <Box as="section" mt="4" maxW="640px" aria-label={t("history.thenAndNow")}>
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0" />
            <Table.ColumnHeader>{t("history.asItWasGiven")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("history.theSameMorningAdvisedToday")}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((r) => (
            <Table.Row key={r.name} bg="transparent">
              <Table.Cell px="0" color="inkSoft">
                {r.name}
              </Table.Cell>
              <Table.Cell>{r.given}</Table.Cell>
              <Table.Cell fontWeight={r.given === r.today ? "400" : "700"}>{r.today}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Text fontSize="sm" color="inkSoft" mt="1">
        {t("history.rules", {
          same: same ? "yes" : "no",
          version: advice.version,
          sameRules: advice.same_rules ? "yes" : "no",
        })}
      </Text>
    </Box>
  );
}

function AtHand({ advice, time }: { advice: PastAdvice; time: FarmTime }) {
  const at = advice.inputs;
  const heard = at.instruments.map((i) =>
    i.last_hours === null || i.last_hours === undefined
      ? t("history.nothing2", { label: i.label })
      : t("history.before", { label: i.label, last: span(-i.last_hours) }),
  );
  const issued = at.forecast_issued_at ? new Date(at.forecast_issued_at) : null;
  return (
    <Text mt="3" maxW="100ch">
      {t("history.knownThatMorningWeatherToIrrigations", {
        heard: heard.join("; ") || t("history.noInstrument"),
        issued: issued
          ? t("history.forecastOf", { full: time.full(issued) })
          : t("history.noForecast"),
        weatherUntil: at.weather_until ? shownDay(at.weather_until) : t("history.noDay"),
        sets: number(at.sets, 0),
        newestSet:
          at.newest_set_hours === null || at.newest_set_hours === undefined
            ? ""
            : t("history.theLastBefore", { newestSet: span(-at.newest_set_hours) }),
      })}
      {at.planned > 0 && t("history.scheduled", { planned: at.planned })}
      {at.holds > 0 && t("history.onHold")}.
    </Text>
  );
}
