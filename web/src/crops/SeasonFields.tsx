import { Grid } from "@chakra-ui/react";
import { DateLine } from "../form/DateLine";
import { Choice } from "../form/Labelled";
import { CropChoice } from "./CropChoice";
import { t } from "./t";

export interface SeasonForm {
  crop: string;
  planted: string;
  clock: string;
}

interface Props {
  form: SeasonForm;
  change: (form: SeasonForm) => void;
  problems: Record<string, string>;
}

/** A crop, the day it begins, and what times it. */
export function SeasonFields({ form, change, problems }: Props) {
  return (
    <Grid templateColumns={{ base: "1fr", sm: "1.4fr 1fr 1fr" }} gap="3">
      <CropChoice
        value={form.crop}
        change={(crop) => change({ ...form, crop })}
        error={problems["crop_key"]}
      />
      <DateLine
        label={t("crops.plantedOrBudBreak")}
        value={form.planted}
        change={(planted) => change({ ...form, planted })}
        error={problems["planted_on"]}
      />
      <Choice
        label={t("crops.timedBy")}
        value={form.clock}
        change={(clock) => change({ ...form, clock })}
        error={problems["clock"]}
      >
        <option value="days">{t("crops.days")}</option>
        <option value="degree-days">{t("crops.degreeDays")}</option>
      </Choice>
    </Grid>
  );
}
