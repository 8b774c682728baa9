import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, number } from "../units/format";
import type { DayRow } from "./queries";

/** The expected case day by day until refill, for redoing by hand. */
export function DayTable({ days, time }: { days: DayRow[]; time: FarmTime }) {
  const { units } = useSignedIn();
  if (days.length === 0) return null;
  const w = measure(units, "water").label;
  return (
    <Box as="section" mt="8" aria-labelledby="days">
      <Heading as="h2" id="days" size="lg">
        Day by day to refill
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="2">
        Each day starts at {time.clock(time.now)}. Next deficit = deficit + use + new soil, where
        use = Kc × ET0 × Ks and new soil is the deficit that growing roots meet. Left = p × TAW −
        deficit.
      </Text>
      <Table.ScrollArea>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              {[
                "Day",
                "Kc",
                `ET0 ${w}`,
                "Ks",
                `Use ${w}`,
                `New soil ${w}`,
                "p",
                `TAW ${w}`,
                `Deficit ${w}`,
                `Left ${w}`,
              ].map((h) => (
                <Table.ColumnHeader
                  key={h}
                  px="2"
                  whiteSpace="nowrap"
                  textAlign={h === "Day" ? "start" : "end"}
                >
                  {h}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {days.map((d) => (
              <Table.Row key={d.day} bg="transparent" color={d.usable_mm < 0 ? "rust" : "ink"}>
                <Table.Cell px="2" whiteSpace="nowrap">
                  {d.day} · {time.day(time.at(d.day * 24))}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {number(d.kc, 2)}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {figure(d.et0_mm, units, "waterDay")}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {number(d.ks, 2)}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {figure(d.etc_mm, units, "water")}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {figure(d.new_soil_mm, units, "water")}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {number(d.p, 3)}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {figure(d.taw_mm, units, "water")}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end">
                  {figure(d.deficit_mm, units, "water")}
                </Table.Cell>
                <Table.Cell px="2" textAlign="end" fontWeight="600">
                  {figure(d.usable_mm, units, "water")}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}
