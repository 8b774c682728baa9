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
  if (rows.isPending || !time) return <Loading what="Walking the instruments" />;
  if (rows.error) return <Notice error={rows.error} retry={() => void rows.refetch()} />;
  return (
    <Box maxW="1240px">
      <Flex justify="space-between" align="end" gap="3" wrap="wrap" mb="3">
        <Flex gap="5" align="end" wrap="wrap">
          <Box w={{ base: "100%", sm: "280px" }}>
            <Line label="Find an instrument" type="search" value={search} change={setSearch} />
          </Box>
          <Box pb="2">
            <Tick label="only what wants looking at" on={worriesOnly} change={setWorriesOnly} />
          </Box>
        </Flex>
        <Flex gap="2">
          {may("record_readings") && (
            <>
              <Button asChild size="sm" variant="outline">
                <Link to={`/${farm.slug}/ground/files`}>Files</Link>
              </Button>
              <Button asChild size="sm" variant="outline">
                <Link to={`/${farm.slug}/ground/arrivals`}>Arrivals</Link>
              </Button>
            </>
          )}
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/ground/loggers`}>Loggers</Link>
          </Button>
        </Flex>
      </Flex>
      {rows.data.length === 0 ? (
        <Box py="6" maxW="60ch">
          <Heading as="h2" size="lg">
            No instruments yet
          </Heading>
          <Text mt="1">
            Open a block and choose “Add readings”: there you put in the first instrument and bring
            in what it reads.
          </Text>
        </Box>
      ) : (
        <Text color="inkSoft" fontSize="sm" mb="2" role="status">
          {shown.length} of {rows.data.length} instruments,{" "}
          {rows.data.filter((r) => worries(r).length > 0).length} want looking at
        </Text>
      )}
      {shown.length > 0 && (
        <Table.ScrollArea>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">Instrument</Table.ColumnHeader>
                <Table.ColumnHeader>Block</Table.ColumnHeader>
                <Table.ColumnHeader>State</Table.ColumnHeader>
                <Table.ColumnHeader>Last word</Table.ColumnHeader>
                <Table.ColumnHeader>Trusted this week</Table.ColumnHeader>
                <Table.ColumnHeader>Next task</Table.ColumnHeader>
                <Table.ColumnHeader>Wants looking at</Table.ColumnHeader>
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
                ? "not written down yet"
                : `${row.next_task.overdue ? "was due" : "due"} ${time.day(new Date(row.next_task.due))}`}
            </Text>
          </>
        ) : (
          <Text color="inkSoft">none</Text>
        )}
      </Table.Cell>
      <Table.Cell
        color={found.length > 0 ? "rust" : "inkSoft"}
        whiteSpace="normal"
        minW="180px"
        maxW="260px"
      >
        {found.length > 0 ? found.join("; ") : "well"}
      </Table.Cell>
    </Table.Row>
  );
}
