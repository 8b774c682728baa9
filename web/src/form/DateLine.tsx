import { Field } from "@chakra-ui/react";
import { DayInput } from "./DayInput";
import { dayProblem } from "./dayProblem";

interface Props {
  label: string;
  value: string;
  change: (value: string) => void;
  error?: string | undefined;
  help?: string | undefined;
}

/** A labelled day. */
export function DateLine({ label, value, change, error, help }: Props) {
  const problem = error ?? dayProblem(value);
  return (
    <Field.Root invalid={Boolean(problem)}>
      <Field.Label>{label}</Field.Label>
      <DayInput label={label} value={value} change={change} />
      {help && !problem && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{problem}</Field.ErrorText>
    </Field.Root>
  );
}
