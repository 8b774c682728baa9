import { Box, Heading, Text } from "@chakra-ui/react";
import type { FarmTime } from "../time/farmTime";
import { figure, number, UNKNOWN } from "../units/format";
import { FigureTable, type Column } from "./FigureTable";
import type { DayRow } from "./queries";

const COLUMNS: Column<DayRow>[] = [
  { heading: "Kc", cell: (d) => number(d.kc, 2) },
  { heading: "ET0", water: true, cell: (d, u) => figure(d.et0_mm, u, "waterDay") },
  { heading: "Ks", cell: (d) => number(d.ks, 2) },
  {
    heading: "Soil",
    water: true,
    of: (d) => d.bare_mm ?? 0,
    cell: (d, u) => figure(d.bare_mm, u, "water"),
  },
  { heading: "Use", water: true, cell: (d, u) => figure(d.etc_mm, u, "water") },
  {
    heading: "Water in",
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
  if (days.length === 0) return null;
  return (
    <Box as="section" mt="8" aria-labelledby="days">
      <Heading as="h2" id="days" size="lg">
        Day by day to refill
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="2">
        Each day starts at {time.clock(time.now)}. Next deficit = deficit + use + drains + new soil
        − water in, where use = Kc × ET0 × Ks times what this crop is found to use of the
        book&apos;s, and what bare wet soil gives off where that is apart from Kc; new soil is the
        deficit that growing roots meet. Left = p × TAW − deficit. Water in is rain that most
        forecasts have, and what is planned; the last column is the share of them that is past
        refill.
      </Text>
      <FigureTable
        columns={COLUMNS}
        rows={days}
        day={(d) => `${d.day} · ${time.day(time.at(d.day * 24))}`}
        late={(d) => d.usable_mm < 0}
      />
    </Box>
  );
}
