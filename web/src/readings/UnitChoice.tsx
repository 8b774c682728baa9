import { Field, NativeSelect } from "@chakra-ui/react";
import type { Instrument, ReadingUnit } from "./queries";
import { t } from "./t";

const UNIT_NAMES: Record<ReadingUnit, string> = {
  "m3/m3": t("readings.fractionMM"),
  "%": t("readings.percentOfVolume"),
  "mm/100mm": t("readings.mmPer100Mm"),
  kPa: t("readings.kpa"),
  cbar: t("readings.centibar"),
  counts: t("readings.counts"),
  permittivity: t("readings.permittivity"),
  kOhm: "kΩ",
  degC: "°C",
  degF: "°F",
  mm: t("readings.mm"),
  cm: t("readings.cm"),
  in: t("readings.inches"),
  m3: "m³",
  gal: t("readings.usGallons"),
  MPa: t("readings.mpa"),
  bar: t("readings.bar"),
  "% available": t("readings.percentOfTheAvailableWater"),
};

interface Props {
  label: string;
  instrument: Instrument;
  unit: ReadingUnit;
  choose: (unit: ReadingUnit) => void;
}

/** The unit in which an instrument's readings are written. */
export function UnitChoice({ label, instrument, unit, choose }: Props) {
  return (
    <Field.Root w="auto">
      <Field.Label>{label}</Field.Label>
      <NativeSelect.Root size="sm" w="200px">
        <NativeSelect.Field
          bg="sheet"
          value={unit}
          onChange={(e) => choose(e.currentTarget.value as ReadingUnit)}
        >
          {instrument.units.map((u) => (
            <option key={u} value={u}>
              {UNIT_NAMES[u]}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  );
}
