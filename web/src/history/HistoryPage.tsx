import { Box, Heading, Flex, Table, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { StateMark } from "../answer/StateMark";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { decisionWords } from "../decide/words";
import { DaysBack } from "../form/DaysBack";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { number, runningTime, waterShort } from "../units/format";
import { useHistory, type HistoryData } from "./queries";
import { t } from "./t";

const STRETCHES = [14, 28, 90, 200];

/** What was advised day by day, what was done with it, and what came of it. */
export function HistoryPage() {
  const { block: id } = useParams();
  const { farm } = useSignedIn();
  const [days, setDays] = useState(14);
  const history = useHistory(farm.slug, Number(id), days);
  if (history.isPending) return <Loading what={t("history.loadingPastAdvice")} />;
  if (history.error) return <Notice error={history.error} retry={() => void history.refetch()} />;
  const here = `/${farm.slug}/blocks/${id}`;
  return (
    <Box maxW="1240px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={here}>← {history.data.block}</Link>
      </Text>
      <Flex align="center" gap="4" wrap="wrap" mb="1">
        <Heading as="h1" size="2xl" fontWeight="700">
          {t("history.pastAdvice", { block: history.data.block })}
        </Heading>
        <DaysBack choices={STRETCHES} days={days} change={setDays} />
      </Flex>
      <Text color="inkSoft" fontSize="sm" mb="3" maxW="80ch">
        {t("history.theAdviceAsItWasGivenEach")}
      </Text>
      <Rows history={history.data} here={here} />
    </Box>
  );
}

function Rows({ history, here }: { history: HistoryData; here: string }) {
  const time = useMemo(() => new FarmTime(history.now, history.time_zone), [history]);
  const { units } = useSignedIn();
  if (history.rows.length === 0) {
    return <Text>{t("history.noAdviceIsOnRecordInThese")}</Text>;
  }
  return (
    <Table.ScrollArea tabIndex={0}>
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("history.morning")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("history.advised")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("history.decided")}</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
              {t("history.appliedByNext")}
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
              {t("history.leastLeft")}
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" whiteSpace="nowrap">
              {t("history.belowRefill")}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {history.rows.map((r) => {
            const made = new Date(r.made_at);
            const start = r.start_at ? new Date(r.start_at) : null;
            const dry = r.below_refill_days ?? 0;
            return (
              <Table.Row key={r.id} bg="transparent" verticalAlign="top">
                <Table.Cell px="0" whiteSpace="nowrap">
                  <Link to={`${here}/history/${r.id}`} style={{ textDecoration: "underline" }}>
                    {time.weekday(made)} {time.date(made)}
                  </Link>
                </Table.Cell>
                <Table.Cell>
                  <Flex gap="2" align="center">
                    <StateMark state={r.state} size={16} />
                    <Text fontWeight="650" whiteSpace="nowrap">
                      {t(`state.${r.state}`)}
                    </Text>
                  </Flex>
                  {start && r.gross_mm !== null && (
                    <Text fontSize="sm" color="inkSoft">
                      {t("history.by", {
                        weekday: time.weekday(start),
                        start: time.date(start),
                        startTime: time.clock(start),
                        hours: runningTime(r.hours),
                        gross: waterShort(r.gross_mm, units),
                      })}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell fontSize="sm">
                  {r.decisions.map((d) => decisionWords(d)).join("; ") || (
                    <Text as="span" color="inkSoft">
                      {t("history.nothing")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell textAlign="end" whiteSpace="nowrap">
                  {r.given_mm > 0 ? waterShort(r.given_mm, units) : "–"}
                </Table.Cell>
                <Table.Cell
                  textAlign="end"
                  whiteSpace="nowrap"
                  color={(r.low_mm ?? 0) < 0 ? "rust" : "ink"}
                >
                  {waterShort(r.low_mm, units)}
                </Table.Cell>
                <Table.Cell
                  textAlign="end"
                  whiteSpace="nowrap"
                  color={dry > 0 ? "rust" : "inkSoft"}
                >
                  {r.below_refill_days === null
                    ? "–"
                    : dry > 0
                      ? `${number(dry, 1)} d`
                      : t("history.never")}
                </Table.Cell>
              </Table.Row>
            );
          })}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
