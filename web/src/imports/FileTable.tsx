import { Box, Table, Text } from "@chakra-ui/react";
import { unitName } from "../instruments/words";
import type { FarmTime } from "../time/farmTime";
import type { Layout, Preview, Sensor } from "./queries";
import { letter, refusedAt, roleOf, withRole, withUnit, type Role } from "./roles";
import { ColumnUnit, SensorChoice } from "./SensorChoice";
import { t } from "./t";

interface Props {
  layout: Layout;
  preview: Preview;
  sensors: Sensor[];
  time: FarmTime;
  change: (layout: Layout) => void;
  fixed: boolean;
}

/** The file's first rows as they stand, and under each cell what it is taken to say. */
export function FileTable({ layout, preview, sensors, time, change, fixed }: Props) {
  const width = Math.max(...preview.rows.map((r) => r.cells.length), 1);
  const columns = Array.from({ length: width }, (_, k) => k);
  const byLine = new Map(preview.understood.map((u) => [u.line, u]));
  const refused = refusedAt(preview);

  function meaning(line: number, column: number): string | null {
    const row = byLine.get(line);
    if (!row) return null;
    const role = roleOf(layout, column);
    if (role === "time") return row.time ? time.full(new Date(row.time)) : null;
    if (role === "value") {
      const [channel, value] = Object.entries(row.values)[0] ?? [];
      const use = layout.keys.find((k) => String(k.channel_id) === channel);
      return value === undefined ? null : `${value} ${unitName(use?.unit ?? "")}`;
    }
    const use = layout.columns.find((c) => c.column === column);
    const value = use && row.values[String(use.channel_id)];
    return use && value !== undefined ? `${value} ${unitName(use.unit)}` : null;
  }

  function trouble(line: number, column: number): string | undefined {
    return refused.get(
      `${line}|${preview.heading[column]?.trim() || t("imports.column", { column: column + 1 })}`,
    );
  }

  return (
    <Table.ScrollArea tabIndex={0} borderWidth="1px" borderColor="rule" maxH="520px">
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="bed">
            <Table.ColumnHeader px="2">{t("imports.row2")}</Table.ColumnHeader>
            {columns.map((k) => {
              const role = roleOf(layout, k);
              const use = layout.columns.find((c) => c.column === k);
              const sensor = sensors.find((s) => s.channel_id === use?.channel_id);
              return (
                <Table.ColumnHeader key={k} px="2" verticalAlign="top" minW="132px">
                  <Text fontSize="xs" color="inkSoft">
                    {letter(k)}
                  </Text>
                  <SensorChoice
                    label={t("imports.columnHolds", { letter: letter(k) })}
                    value={role}
                    sensors={layout.shape === "wide" ? sensors : []}
                    named={(channel) => `sensor:${channel}`}
                    disabled={fixed}
                    choose={(next) => change(withRole(layout, k, next as Role, sensors))}
                  >
                    <option value="">{t("imports.notUsed")}</option>
                    <option value="time">{t("imports.time")}</option>
                    <option value="clock">{t("imports.timeOfDay")}</option>
                    {layout.shape === "long" && (
                      <option value="value">{t("imports.readings")}</option>
                    )}
                    {layout.shape === "long" && (
                      <option value="key">{t("imports.namesTheSensor")}</option>
                    )}
                  </SensorChoice>
                  {use && sensor && layout.shape === "wide" && (
                    <Box mt="1">
                      <ColumnUnit
                        label={t("imports.unitOfColumn", { letter: letter(k) })}
                        units={sensor.units}
                        value={use.unit}
                        disabled={fixed}
                        choose={(unit) => change(withUnit(layout, k, unit))}
                      />
                    </Box>
                  )}
                </Table.ColumnHeader>
              );
            })}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {preview.rows.map((row) => {
            const above = row.line < layout.data_from;
            return (
              <Table.Row key={row.line} bg={above ? "bedAhead" : "transparent"}>
                <Table.Cell px="2" color="inkSoft">
                  {row.line}
                </Table.Cell>
                {columns.map((k) => {
                  const wrong = above ? undefined : trouble(row.line, k);
                  const means = above ? null : meaning(row.line, k);
                  const used = roleOf(layout, k) !== "";
                  return (
                    <Table.Cell key={k} px="2" verticalAlign="top" maxW="220px">
                      <Text
                        truncate
                        fontSize="sm"
                        color={above || !used ? "inkSoft" : "ink"}
                        textDecoration={wrong ? "line-through" : undefined}
                      >
                        {row.cells[k]}
                      </Text>
                      {means && !wrong && (
                        <Text fontSize="xs" color="water" whiteSpace="nowrap">
                          {means}
                        </Text>
                      )}
                      {wrong && (
                        <Text fontSize="xs" color="rust" whiteSpace="normal" minW="160px">
                          {wrong}
                        </Text>
                      )}
                    </Table.Cell>
                  );
                })}
              </Table.Row>
            );
          })}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
