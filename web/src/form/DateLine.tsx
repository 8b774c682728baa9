import { Field } from "@chakra-ui/react";
import { isDay, shownDay } from "../time/enteredDate";
import { DayInput } from "./DayInput";
import { t } from "./t";

interface Props {
  label: string;
  value: string;
  change: (value: string) => void;
  error?: string | undefined;
  help?: string | undefined;
}

/** A labelled day. */
export function DateLine({ label, value, change, error, help }: Props) {
  const unread =
    value !== "" && !isDay(value) && t("form.enterADay", { example: shownDay("2026-07-14") });
  const problem = error ?? (unread || undefined);
  return (
    <Field.Root invalid={Boolean(problem)}>
      <Field.Label>{label}</Field.Label>
      <DayInput label={label} value={value} change={change} />
      {help && !problem && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{problem}</Field.ErrorText>
    </Field.Root>
  );
}
