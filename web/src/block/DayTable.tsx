import { Box, Heading, Text } from "@chakra-ui/react";
import type { FarmTime } from "../time/farmTime";
import { number, UNKNOWN } from "../units/format";
import { FigureTable, waterColumn, type Column } from "./FigureTable";
import type { DayRow } from "./queries";
import { t } from "./t";

const COLUMNS: Column<DayRow>[] = [
  { heading: t("block.kc"), cell: (d) => number(d.kc, 3) },
  waterColumn(t("block.et0"), (d) => d.et0_mm),
  { heading: t("block.ks"), cell: (d) => number(d.ks, 3) },
  waterColumn(t("block.soil"), (d) => d.bare_mm, "ifAny"),
  waterColumn(t("block.use"), (d) => d.etc_mm),
  waterColumn(t("block.waterIn"), (d) => d.water_in_mm, "ifAny"),
  waterColumn(t("block.drainage"), (d) => d.drained_mm, "ifAny"),
  waterColumn(t("block.newSoil"), (d) => d.new_soil_mm, "ifAny"),
  { heading: "p", cell: (d) => number(d.p, 4) },
  waterColumn(t("block.taw"), (d) => d.taw_mm),
  waterColumn(t("block.deficit"), (d) => d.deficit_mm),
  waterColumn(t("block.aboveRefill"), (d) => d.usable_mm),
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
