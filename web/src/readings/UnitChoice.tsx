import { Field, NativeSelect } from "@chakra-ui/react";
import type { Instrument, ReadingUnit } from "./queries";

const UNIT_NAMES: Record<ReadingUnit, string> = {
  "m3/m3": "fraction, m³/m³",
  "%": "percent of volume",
  "mm/100mm": "mm per 100 mm",
  kPa: "kPa",
  cbar: "centibar",
  counts: "counts",
  permittivity: "permittivity",
  kOhm: "kΩ",
  degC: "°C",
  degF: "°F",
  mm: "mm",
  cm: "cm",
  in: "inches",
  m3: "m³",
  gal: "US gallons",
  MPa: "MPa",
  bar: "bar",
  "% available": "percent of the available water",
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
