import { Box } from "@chakra-ui/react";
import { Choice } from "../form/Labelled";
import type { Sensor } from "./queries";
import { t } from "./t";

interface Props {
  sensors: Sensor[];
  chosen: number | null;
  pending: boolean;
  choose: (instrument: number) => void;
}

/** Whose file it is: its columns are then matched to that instrument's depths. */
export function Whose({ sensors, chosen, pending, choose }: Props) {
  const instruments = new Map(
    sensors.map((s) => [s.instrument_id, `${s.block}, ${s.instrument}`] as const),
  );
  return (
    <Box w="320px" mb="3">
      <Choice
        label={t("imports.instrument")}
        value={String(chosen ?? "")}
        disabled={pending}
        change={(v) => v && choose(Number(v))}
      >
        <option value="">{t("imports.severalInstrumentsOrNotKnown")}</option>
        {[...instruments].map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </Choice>
    </Box>
  );
}
