import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import { figure, measure } from "../units/format";
import { useInstruments, type Health } from "./queries";
import { TrustBar } from "./TrustBar";
import { concern, lastWord, worries } from "./words";
import { t } from "./t";

/** Every instrument at a glance, those that want looking at on top. */
export function InstrumentList() {
  const { farm, may } = useSignedIn();
  const rows = useInstruments(farm.slug);
  const time = useFarmTime();
  const [search, setSearch] = useState("");
  const [worriesOnly, setWorriesOnly] = useState(false);
  const shown = useMemo(() => {
    const wanted = search.trim().toLowerCase();
    return (rows.data ?? [])
      .filter((r) => !worriesOnly || worries(r).length > 0)
      .filter((r) =>
        [r.label, r.block, r.kind_name, r.serial, r.site].join(" ").toLowerCase().includes(wanted),
      )
      .toSorted((a, b) => concern(b) - concern(a));
  }, [rows.data, search, worriesOnly]);
  if (rows.isPending || !time) return <Loading what={t("instruments.loadingTheInstruments")} />;
  if (rows.error) return <Notice error={rows.error} retry={() => void rows.refetch()} />;
  return (
    <Box maxW="1240px">
      <Flex justify="space-between" align="end" gap="3" wrap="wrap" mb="3">
        <Flex gap="5" align="end" wrap="wrap">
          <Box w={{ base: "100%", sm: "280px" }}>
            <Line
              label={t("instruments.findAnInstrument")}
              type="search"
              value={search}
              change={setSearch}
            />
          </Box>
          <Box pb="2">
            <Tick
              label={t("instruments.onlyThoseThatNeedAttention")}
              on={worriesOnly}
              change={setWorriesOnly}
            />
          </Box>
        </Flex>
        <Flex gap="2">
          {may("record_readings") && (
            <>
              <Button asChild size="sm" variant="outline">
                <Link to={`/${farm.slug}/ground/files`}>{t("instruments.files")}</Link>
              </Button>
              <Button asChild size="sm" variant="outline">
                <Link to={`/${farm.slug}/ground/arrivals`}>{t("instruments.dataReceived")}</Link>
              </Button>
            </>
          )}
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/ground/loggers`}>{t("instruments.loggers")}</Link>
          </Button>
        </Flex>
      </Flex>
      {rows.data.length === 0 ? (
        <Box py="6" maxW="60ch">
          <Heading as="h2" size="lg">
            {t("instruments.noInstrumentsYet")}
          </Heading>
          <Text mt="1">{t("instruments.openABlockAndChooseAddReadings")}</Text>
        </Box>
      ) : (
        <Text color="inkSoft" fontSize="sm" mb="2" role="status">
          {t("instruments.ofInstrumentsNeedAttention", {
            count: shown.length,
            count2: rows.data.length,
            count3: rows.data.filter((r) => worries(r).length > 0).length,
          })}
        </Text>
      )}
      {shown.length > 0 && (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("instruments.instrument")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("instruments.block")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("instruments.state")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("instruments.lastReading")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("instruments.reliableThisWeek")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("instruments.nextTask")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("instruments.needsAttention")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {shown.map((row) => (
                <Row key={row.id} row={row} />
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
    </Box>
  );
}

function Row({ row }: { row: Health }) {
  const { farm, units } = useSignedIn();
  const time = useFarmTime();
  const found = worries(row);
  const soft = row.status === "retired" ? "inkSoft" : "ink";
  return (
    <Table.Row bg="transparent" color={soft}>
      <Table.Cell px="0">
        <Link
          to={`/${farm.slug}/instruments/${row.id}`}
          style={{ fontWeight: 600, textDecoration: "underline" }}
        >
          {row.label}
        </Link>
        <Text fontSize="xs" color="inkSoft">
          {row.kind_name}
          {row.depths_mm.length > 0 &&
            `, ${row.depths_mm.map((d) => figure(d, units, "depth")).join(" ")} ${measure(units, "depth").label}`}
        </Text>
      </Table.Cell>
      <Table.Cell>
        <Link to={`/${farm.slug}/blocks/${row.block_id}`}>{row.block}</Link>
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap">{row.status}</Table.Cell>
      <Table.Cell whiteSpace="nowrap">{time && lastWord(row.last_at, time)}</Table.Cell>
      <Table.Cell>
        <TrustBar share={row.trusted} />
      </Table.Cell>
      <Table.Cell whiteSpace="normal" minW="180px" maxW="240px">
        {row.next_task && time ? (
          <>
            {row.next_task.name}
            <Text fontSize="xs" color={row.next_task.overdue ? "rust" : "inkSoft"}>
              {row.next_task.due === null
                ? t("instruments.notRecordedYet")
                : t("instruments.overdueWasDueDue", {
                    overdue: row.next_task.overdue ? "yes" : "no",
                    dueDay: time.day(new Date(row.next_task.due)),
                  })}
            </Text>
          </>
        ) : (
          <Text color="inkSoft">{t("instruments.none")}</Text>
        )}
      </Table.Cell>
      <Table.Cell
        color={found.length > 0 ? "rust" : "inkSoft"}
        whiteSpace="normal"
        minW="180px"
        maxW="260px"
      >
        {found.length > 0 ? found.join("; ") : t("instruments.ok")}
      </Table.Cell>
    </Table.Row>
  );
}
