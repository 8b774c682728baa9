import { Box, Heading, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, number, UNKNOWN, withUnit } from "../units/format";
import { FigureTable, waterColumn, type Column } from "./FigureTable";
import type { BlockData } from "./queries";
import { t } from "./t";

type Row = BlockData["balance"][number];

/** A factor this near to 1 changes no figure that is shown. */
const SAME_FACTOR = 0.0005;
/** Less than this share would be shown as zero. */
const LEAST_WEIGHT = 0.005;

const COLUMNS: Column<Row>[] = [
  waterColumn(t("block.balance"), (d) => d.forecast_mm),
  waterColumn(t("block.sensors"), (d) => d.observed_mm),
  {
    heading: t("block.weight"),
    cell: (d) => (d.gain >= LEAST_WEIGHT ? number(d.gain * 100, 0) : UNKNOWN),
  },
  waterColumn(t("block.deficit"), (d) => d.depletion_mm),
  { heading: "±", water: true, cell: (d, u) => figure(d.sigma_mm, u, "water") },
  waterColumn(t("block.waterIn"), (d) => d.water_in_mm),
  {
    heading: t("block.et0"),
    water: true,
    cell: (d, u) => figure(d.et0_mm, u, "waterDay") + (d.recorded ? "" : "*"),
  },
  { heading: t("block.kc"), cell: (d) => number(d.kc, 2) },
  { heading: t("block.ofKc"), cell: (d) => number(d.use_factor, 2) },
  { heading: t("block.ks"), of: (d) => 1 - d.ks, cell: (d) => number(d.ks, 2) },
  waterColumn(t("block.use"), (d) => d.et_mm),
  waterColumn(t("block.drainage"), (d) => d.drained_mm, "ifAny"),
  waterColumn(t("block.runoff"), (d) => d.runoff_mm, "ifAny"),
  waterColumn(t("block.newSoil"), (d) => d.new_soil_mm, "ifAny"),
];

/** The days behind now: what the balance expected, what the sensors said, what was believed. */
export function BalanceTable({ block, time }: { block: BlockData; time: FarmTime }) {
  const { units } = useSignedIn();
  if (block.balance.length === 0) return null;
  const w = block.weighed;
  return (
    <Box as="section" mt="8" aria-labelledby="balance">
      <Heading as="h2" id="balance" size="lg">
        {t("block.waterBalanceAndSensors")}
      </Heading>
      {w && (
        <Text mb="1">
          {`${t("block.deficitFromTheWaterBalanceBefore", { forecast: figure(w.forecast_mm, units, "water"), forecastSigma: withUnit(w.forecast_sigma_mm, units, "water") })} `}
          {w.observed_mm === null
            ? t("block.noNewReadings")
            : t("block.deficitFromTheSensorsWeightGivenTo", {
                observed: withUnit(w.observed_mm, units, "water"),
                gain: number(w.gain * 100, 0),
              })}
          {w.offset_mm !== null &&
            Math.abs(w.offset_mm) >= 1 &&
            ` ${t("block.estimatedSensorBiasToo", { offset: withUnit(Math.abs(w.offset_mm), units, "water"), offset2: w.offset_mm > 0 ? "yes" : "no" })}`}
          {Math.abs(w.use_factor - 1) >= SAME_FACTOR &&
            ` ${t("block.cropUseEstimatedAtOfKcEt", { useFactor: number(w.use_factor * 100, 1), useSigma: number(w.use_sigma * 100, 0) })}`}
        </Text>
      )}
      <Text color="inkSoft" fontSize="sm" mb="2">
        {t("block.eachRowIsAMorningAtThe", {
          nowTime: time.clock(time.at(block.balance[0]?.hours ?? 0)),
        })}
      </Text>
      <FigureTable columns={COLUMNS} rows={block.balance} day={(d) => time.day(time.at(d.hours))} />
    </Box>
  );
}
