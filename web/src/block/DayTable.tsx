import { Box, Heading, Text } from "@chakra-ui/react";
import type { FarmTime } from "../time/farmTime";
import { number, UNKNOWN } from "../units/format";
import { FigureTable, fineWater, type Column } from "./FigureTable";
import type { DayRow } from "./queries";
import { t } from "./t";

const COLUMNS: Column<DayRow>[] = [
  { heading: t("block.kc"), cell: (d) => number(d.kc, 3) },
  { heading: t("block.et0"), water: true, cell: (d, u) => fineWater(d.et0_mm, u) },
  { heading: t("block.ks"), cell: (d) => number(d.ks, 3) },
  {
    heading: t("block.soil"),
    water: true,
    of: (d) => d.bare_mm ?? 0,
    cell: (d, u) => fineWater(d.bare_mm, u),
  },
  { heading: t("block.use"), water: true, cell: (d, u) => fineWater(d.etc_mm, u) },
  {
    heading: t("block.waterIn"),
    water: true,
    of: (d) => d.water_in_mm,
    cell: (d, u) => fineWater(d.water_in_mm, u),
  },
  {
    heading: t("block.drainage"),
    water: true,
    of: (d) => d.drained_mm,
    cell: (d, u) => fineWater(d.drained_mm, u),
  },
  {
    heading: t("block.newSoil"),
    water: true,
    of: (d) => d.new_soil_mm,
    cell: (d, u) => fineWater(d.new_soil_mm, u),
  },
  { heading: "p", cell: (d) => number(d.p, 4) },
  { heading: t("block.taw"), water: true, cell: (d, u) => fineWater(d.taw_mm, u) },
  { heading: t("block.deficit"), water: true, cell: (d, u) => fineWater(d.deficit_mm, u) },
  { heading: t("block.aboveRefill"), water: true, cell: (d, u) => fineWater(d.usable_mm, u) },
  { heading: t("block.chanceBelowRefill"), cell: (d) => chance(d.chance_past) },
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
        {t("block.forecastToTheRefillPoint")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="2">
        {t("block.eachDayStartsAtNextDeficitDeficit", { nowTime: time.clock(time.now) })}
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
