import { Box, Link as Anchor, Table, Text } from "@chakra-ui/react";
import { depthLabel, unitName } from "../instruments/words";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import type { ReadBench, FileReport, Sensor } from "./queries";
import { count } from "../units/format";

interface Props {
  bench: ReadBench;
  report: FileReport;
  sensors: Sensor[];
  time: FarmTime;
}

/** What the whole file would bring, sensor by sensor, and what of it is refused. */
export function CheckReport({ bench, report, sensors, time }: Props) {
  const { farm, units } = useSignedIn();
  const left = Object.entries(report.left_out);
  return (
    <Box>
      <Text>
        {count(report.rows)} rows hold {count(report.readings)} readings: {count(report.new)} new,{" "}
        <Text as="span" color={report.changed > 0 ? "strawInk" : undefined}>
          {count(report.changed)} that say something else than before (the old word is kept)
        </Text>
        , {count(report.unchanged)} that are here already.
        {report.gaps > 0 && ` ${count(report.gaps)} cells hold no reading.`}
        {report.repeated > 0 &&
          ` ${count(report.repeated)} said again what a row before had said, and count once.`}
      </Text>
      {report.channels.length > 0 && (
        <Table.ScrollArea mt="2" maxW="760px">
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">Sensor</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">New</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">Changed</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">From lowest to highest</Table.ColumnHeader>
                <Table.ColumnHeader>From first to last</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {report.channels.map((c) => {
                const s = sensors.find((x) => x.channel_id === c.channel_id);
                return (
                  <Table.Row key={c.channel_id} bg="transparent">
                    <Table.Cell px="0">
                      {s ? `${depthLabel(s.depth_mm, units)}, ${s.instrument}, ${s.block}` : "–"}
                    </Table.Cell>
                    <Table.Cell textAlign="end">{count(c.new)}</Table.Cell>
                    <Table.Cell textAlign="end">{count(c.changed)}</Table.Cell>
                    <Table.Cell textAlign="end" whiteSpace="nowrap">
                      {Number(c.low.toPrecision(4))} to {Number(c.high.toPrecision(4))}{" "}
                      {unitName(unitOf(bench, c.channel_id))}
                    </Table.Cell>
                    <Table.Cell whiteSpace="nowrap">
                      {time.full(new Date(c.first))} to {time.full(new Date(c.last))}
                    </Table.Cell>
                  </Table.Row>
                );
              })}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {left.length > 0 && (
        <Text mt="2" color="strawInk">
          Left out, given to no sensor:{" "}
          {left
            .slice(0, 8)
            .map(([key, n]) => `${key || "(empty)"} (${count(n)} rows)`)
            .join(", ")}
          {left.length > 8 && ` and ${left.length - 8} more`}
        </Text>
      )}
      {report.refused_count > 0 && (
        <Box mt="3">
          <Text fontWeight="600" color="rust">
            {count(report.refused_count)} refused; they stay out.
          </Text>
          <Table.ScrollArea maxH="260px" maxW="980px">
            <Table.Root size="sm" bg="transparent">
              <Table.Body>
                {bench.refused.map((r) => (
                  <Table.Row key={`${r.row}|${r.column}|${r.value}`} bg="transparent">
                    <Table.Cell px="0" whiteSpace="nowrap">
                      row {r.row}
                    </Table.Cell>
                    <Table.Cell>{r.column}</Table.Cell>
                    <Table.Cell>{r.value}</Table.Cell>
                    <Table.Cell>{r.reason}</Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          </Table.ScrollArea>
        </Box>
      )}
      <Anchor
        mt="2"
        fontSize="sm"
        href={`/api/farms/${farm.slug}/imports/${bench.summary.id}/report.csv`}
        download
        textDecoration="underline"
      >
        Download what was refused and left out (CSV)
      </Anchor>
    </Box>
  );
}

function unitOf(bench: ReadBench, channel: number): string {
  const uses = [...bench.layout.columns, ...bench.layout.keys];
  return uses.find((u) => u.channel_id === channel)?.unit ?? "";
}
