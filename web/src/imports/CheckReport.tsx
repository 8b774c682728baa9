import { Box, Link as Anchor, Table, Text } from "@chakra-ui/react";
import { depthLabel, unitName } from "../instruments/words";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import type { ReadDetail, FileReport, Sensor } from "./queries";
import { count } from "../units/format";
import { t } from "./t";

interface Props {
  detail: ReadDetail;
  report: FileReport;
  sensors: Sensor[];
  time: FarmTime;
}

/** What the whole file would bring, sensor by sensor, and what of it is refused. */
export function CheckReport({ detail, report, sensors, time }: Props) {
  const { farm, units } = useSignedIn();
  const left = Object.entries(report.left_out);
  return (
    <Box>
      <Text>
        {t("imports.rowsHoldReadingsNew", {
          rows: count(report.rows),
          readings: count(report.readings),
          new: count(report.new),
        })}{" "}
        <Text as="span" color={report.changed > 0 ? "strawInk" : undefined}>
          {t("imports.differFromTheReadingsStoredBeforeThe", { changed: count(report.changed) })}
        </Text>
        {t("imports.alreadyStored", { unchanged: count(report.unchanged) })}
        {report.gaps > 0 && ` ${t("imports.cellsHoldNoReading", { gaps: count(report.gaps) })}`}
        {report.repeated > 0 &&
          ` ${t("imports.repeatAnEarlierRowAndCountOnce", { repeated: count(report.repeated) })}`}
      </Text>
      {report.channels.length > 0 && (
        <Table.ScrollArea tabIndex={0} mt="2" maxW="760px">
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("imports.sensor")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("imports.new")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("imports.changed")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">
                  {t("imports.fromLowestToHighest")}
                </Table.ColumnHeader>
                <Table.ColumnHeader>{t("imports.fromFirstToLast")}</Table.ColumnHeader>
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
                      {t("imports.to", {
                        number: Number(c.low.toPrecision(4)),
                        number2: Number(c.high.toPrecision(4)),
                        unitName: unitName(unitOf(detail, c.channel_id)),
                      })}
                    </Table.Cell>
                    <Table.Cell whiteSpace="nowrap">
                      {t("imports.to2", {
                        full: time.full(new Date(c.first)),
                        full2: time.full(new Date(c.last)),
                      })}
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
          {t("imports.leftOutNotAssignedToASensor", {
            map: left
              .slice(0, 8)
              .map(([key, n]) => t("imports.rows", { key: key || "(empty)", n: count(n) }))
              .join(", "),
          })}
          {left.length > 8 && ` ${t("imports.andMore", { count: left.length - 8 })}`}
        </Text>
      )}
      {report.refused_count > 0 && (
        <Box mt="3">
          <Text fontWeight="600" color="rust">
            {t("imports.rejectedTheyAreNotImported", { refusedCount: count(report.refused_count) })}
          </Text>
          <Table.ScrollArea tabIndex={0} maxH="260px" maxW="980px">
            <Table.Root size="sm" bg="transparent">
              <Table.Body>
                {detail.refused.map((r) => (
                  <Table.Row key={`${r.row}|${r.column}|${r.value}`} bg="transparent">
                    <Table.Cell px="0" whiteSpace="nowrap">
                      {t("imports.row", { row: r.row })}
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
        href={`/api/farms/${farm.slug}/imports/${detail.summary.id}/report.csv`}
        download
        textDecoration="underline"
      >
        {t("imports.downloadRejectedAndLeftOutRowsCsv")}
      </Anchor>
    </Box>
  );
}

function unitOf(detail: ReadDetail, channel: number): string {
  const uses = [...detail.layout.columns, ...detail.layout.keys];
  return uses.find((u) => u.channel_id === channel)?.unit ?? "";
}
