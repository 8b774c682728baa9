import { Grid } from "@chakra-ui/react";
import { Choice, Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { useSoils } from "./queries";

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
        label="Stands on"
        value={form.soil}
        change={(soil) => change({ ...form, soil })}
        error={problems["soil_id"]}
      >
        <option value="">choose a soil</option>
        {soils.data?.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </Choice>
      <Line
        label="In force from"
        type="date"
        value={form.from}
        change={(from) => change({ ...form, from })}
        help="empty: it was always so"
      />
      <Line label="Reason" value={form.reason} change={(reason) => change({ ...form, reason })} />
    </Grid>
  );
}
