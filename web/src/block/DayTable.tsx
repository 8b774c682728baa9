import { Box, Heading, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, number, UNKNOWN, type UnitSystem } from "../units/format";
import type { DayRow } from "./queries";

interface Column {
  heading: string;
  water?: true;
  /** Left out where it is nothing on every day. */
  of?: (row: DayRow) => number;
  cell: (row: DayRow, units: UnitSystem) => string;
}

const COLUMNS: Column[] = [
  { heading: "Kc", cell: (d) => number(d.kc, 2) },
  { heading: "ET0", water: true, cell: (d, u) => figure(d.et0_mm, u, "waterDay") },
  { heading: "Ks", cell: (d) => number(d.ks, 2) },
  { heading: "Use", water: true, cell: (d, u) => figure(d.etc_mm, u, "water") },
  {
    heading: "Rain",
    water: true,
    of: (d) => d.water_in_mm,
    cell: (d, u) => figure(d.water_in_mm, u, "water"),
  },
  {
    heading: "Drains",
    water: true,
    of: (d) => d.drained_mm,
    cell: (d, u) => figure(d.drained_mm, u, "water"),
  },
  {
    heading: "New soil",
    water: true,
    of: (d) => d.new_soil_mm,
    cell: (d, u) => figure(d.new_soil_mm, u, "water"),
  },
  { heading: "p", cell: (d) => number(d.p, 3) },
  { heading: "TAW", water: true, cell: (d, u) => figure(d.taw_mm, u, "water") },
  { heading: "Deficit", water: true, cell: (d, u) => figure(d.deficit_mm, u, "water") },
  { heading: "Left", water: true, cell: (d, u) => figure(d.usable_mm, u, "water") },
  { heading: "Past refill %", cell: (d) => chance(d.chance_past) },
];

/** How many of a hundred courses of the weather have passed refill by then. */
function chance(share: number | null): string {
  return share === null ? UNKNOWN : number(share * 100, 0);
}

/** The expected case day by day until refill, for redoing by hand. */
export function DayTable({ days, time }: { days: DayRow[]; time: FarmTime }) {
  const { units } = useSignedIn();
  if (days.length === 0) return null;
  const unit = measure(units, "water").label;
  const columns = COLUMNS.filter(
    (c) => !c.of || days.some((d) => Math.abs(c.of?.(d) ?? 0) >= 0.05),
  );
  return (
    <Box as="section" mt="8" aria-labelledby="days">
      <Heading as="h2" id="days" size="lg">
        Day by day to refill
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="2">
        Each day starts at {time.clock(time.now)}. Next deficit = deficit + use + drains + new soil
        − rain, where use = Kc × ET0 × Ks times what this crop is found to use of the book&apos;s,
        and new soil is the deficit that growing roots meet. Left = p × TAW − deficit. Rain counts
        where most forecasts have it; the last column is the share of them that is past refill.
      </Text>
      <Table.ScrollArea>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="1.5">Day</Table.ColumnHeader>
              {columns.map((c) => (
                <Table.ColumnHeader key={c.heading} px="1.5" whiteSpace="nowrap" textAlign="end">
                  {c.heading} {c.water && unit}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {days.map((d) => (
              <Table.Row key={d.day} bg="transparent" color={d.usable_mm < 0 ? "rust" : "ink"}>
                <Table.Cell px="1.5" whiteSpace="nowrap">
                  {d.day} · {time.day(time.at(d.day * 24))}
                </Table.Cell>
                {columns.map((c) => (
                  <Table.Cell key={c.heading} px="1.5" textAlign="end">
                    {c.cell(d, units)}
                  </Table.Cell>
                ))}
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}
