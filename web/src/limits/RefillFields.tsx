import { Grid } from "@chakra-ui/react";
import { DateLine } from "../form/DateLine";
import { Choice, Line } from "../form/Labelled";
import { StageChoice } from "./StageChoice";
import { REFILL_METHOD_NAMES, valueIn, type RefillMethod, type Stage } from "./words";
import { t } from "./t";

export interface RefillForm {
  refill_method: RefillMethod;
  value: string;
  stage: string;
  from: string;
  reason: string;
}

export const EMPTY_REFILL: RefillForm = {
  refill_method: "crop_p",
  value: "",
  stage: "",
  from: "",
  reason: "",
};

export function refillIn(form: RefillForm) {
  return {
    refill_method: form.refill_method,
    value: valueIn(form.refill_method, form.value),
    stage: (form.stage || null) as Stage | null,
    from_on: form.from || null,
    reason: form.reason,
  };
}

interface Props {
  form: RefillForm;
  change: (form: RefillForm) => void;
  problems: Record<string, string>;
  own: (refill_method: RefillMethod) => string;
}

/** How refill is set: the method, its value, the stage and the day it holds from. */
export function RefillFields({ form, change, problems, own }: Props) {
  const set = (part: Partial<RefillForm>) => change({ ...form, ...part });
  return (
    <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3">
      <Choice
        label={t("limits.refillPointBy")}
        value={form.refill_method}
        error={problems["refill_method"]}
        change={(method) => set({ refill_method: method as RefillMethod, value: "" })}
      >
        {(Object.keys(REFILL_METHOD_NAMES) as RefillMethod[]).map((s) => (
          <option key={s} value={s}>
            {REFILL_METHOD_NAMES[s]}
          </option>
        ))}
      </Choice>
      <Line
        label={
          form.refill_method === "tension" ? t("limits.atMost") : t("limits.allowableDepletionP")
        }
        unit={form.refill_method === "tension" ? "kPa" : "%"}
        numeric
        value={form.value}
        error={problems["value"]}
        help={t("limits.empty", { own: own(form.refill_method) })}
        change={(value) => set({ value })}
      />
      <StageChoice value={form.stage} change={(stage) => set({ stage })} />
      <DateLine
        label={t("limits.inForceFrom")}
        value={form.from}
        error={problems["from_on"]}
        help={t("limits.leaveEmptyIfItAlwaysWas")}
        change={(from) => set({ from })}
      />
      <Line label={t("limits.reason")} value={form.reason} change={(reason) => set({ reason })} />
    </Grid>
  );
}
