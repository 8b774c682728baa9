import { Grid } from "@chakra-ui/react";
import { DateLine } from "../form/DateLine";
import { Choice, Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { useSoils } from "./queries";
import { t } from "./t";

export interface SoilChange {
  soil: string;
  from: string;
  reason: string;
}

interface Props {
  form: SoilChange;
  change: (form: SoilChange) => void;
  problems: Record<string, string>;
}

/** The soil that a block stands on, from when, and why it is said. */
export function SoilFields({ form, change, problems }: Props) {
  const { farm } = useSignedIn();
  const soils = useSoils(farm.slug);
  return (
    <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3">
      <Choice
        label={t("soils.soil")}
        value={form.soil}
        change={(soil) => change({ ...form, soil })}
        error={problems["soil_id"]}
      >
        <option value="">{t("soils.chooseASoil")}</option>
        {soils.data?.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </Choice>
      <DateLine
        label={t("soils.inForceFrom")}
        value={form.from}
        change={(from) => change({ ...form, from })}
        help={t("soils.leaveEmptyIfItAlwaysWas")}
      />
      <Line
        label={t("soils.reason")}
        value={form.reason}
        change={(reason) => change({ ...form, reason })}
      />
    </Grid>
  );
}
