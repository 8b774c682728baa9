import { Box, Heading, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, number, UNKNOWN, withUnit } from "../units/format";
import { FigureTable, type Column } from "./FigureTable";
import type { BlockData } from "./queries";

type Row = BlockData["balance"][number];

const COLUMNS: Column<Row>[] = [
  { heading: "Balance", water: true, cell: (d, u) => figure(d.forecast_mm, u, "water") },
  { heading: "Sensors", water: true, cell: (d, u) => figure(d.observed_mm, u, "water") },
  { heading: "Weight %", cell: (d) => (d.gain > 0 ? number(d.gain * 100, 0) : UNKNOWN) },
  { heading: "Deficit", water: true, cell: (d, u) => figure(d.depletion_mm, u, "water") },
  { heading: "±", water: true, cell: (d, u) => figure(d.sigma_mm, u, "water") },
  { heading: "Water in", water: true, cell: (d, u) => figure(d.water_in_mm, u, "water") },
  {
    heading: "ET0",
    water: true,
    cell: (d, u) => figure(d.et0_mm, u, "waterDay") + (d.recorded ? "" : "*"),
  },
  { heading: "Kc", cell: (d) => number(d.kc, 2) },
  { heading: "of book", cell: (d) => number(d.use_factor, 2) },
  { heading: "Ks", of: (d) => 1 - d.ks, cell: (d) => number(d.ks, 2) },
  { heading: "Use", water: true, cell: (d, u) => figure(d.et_mm, u, "water") },
  {
    heading: "Drains",
    water: true,
    of: (d) => d.drained_mm,
    cell: (d, u) => figure(d.drained_mm, u, "water"),
  },
];

/** The days behind now: what the balance expected, what the sensors said, what was believed. */
export function BalanceTable({ block, time }: { block: BlockData; time: FarmTime }) {
  const { units } = useSignedIn();
  if (block.balance.length === 0) return null;
  const w = block.weighed;
  return (
    <Box as="section" mt="8" aria-labelledby="balance">
      <Heading as="h2" id="balance" size="lg">
        Balance and sensors
      </Heading>
      {w && (
        <Text mb="1">
          {`Deficit from the water balance, before readings: ${figure(w.forecast_mm, units, "water")} ± ${withUnit(w.forecast_sigma_mm, units, "water")}. `}
          {w.observed_mm === null
            ? "No new readings."
            : `Deficit from the sensors: ${withUnit(w.observed_mm, units, "water")}; weight given to the readings: ${number(w.gain * 100, 0)} %.`}
          {w.offset_mm !== null &&
            Math.abs(w.offset_mm) >= 1 &&
            ` Estimated sensor bias: ${withUnit(Math.abs(w.offset_mm), units, "water")} too ${w.offset_mm > 0 ? "dry" : "wet"}.`}
          {Math.abs(w.use_factor - 1) >= 0.02 &&
            ` Crop use estimated at ${number(w.use_factor * 100, 0)} ± ${number(w.use_sigma * 100, 0)} % of Kc · ET.`}
        </Text>
      )}
      <Text color="inkSoft" fontSize="sm" mb="2">
        Each row is a morning at {time.clock(time.now)}. The next deficit = deficit + use + drainage
        − water in + deficit of the soil that roots grow into + correction by the readings. Use
        includes evaporation from the soil; below zero is water above full. * ET not recorded: the
        expected ET was used.
      </Text>
      <FigureTable
        columns={COLUMNS}
        rows={block.balance}
        day={(d) => time.day(time.at(d.day * 24))}
      />
    </Box>
  );
}
