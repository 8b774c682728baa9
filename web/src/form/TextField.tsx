import { Field, Input, InputGroup } from "@chakra-ui/react";
import type { UseFormRegisterReturn } from "react-hook-form";

interface Props {
  label: string;
  field: UseFormRegisterReturn;
  error?: string | undefined;
  unit?: string;
  help?: string;
  numeric?: boolean;
  required?: boolean;
  hideLabel?: boolean;
}

/** A labelled input with its unit, its help, and what is wrong with it. */
export function TextField(props: Props) {
  const { label, field, error, unit, help, numeric, required, hideLabel } = props;
  const input = (
    <Input
      size="sm"
      autoComplete="off"
      inputMode={numeric ? "decimal" : undefined}
      aria-label={hideLabel ? label : undefined}
      bg="sheet"
      {...field}
    />
  );
  return (
    <Field.Root invalid={Boolean(error)} required={required ?? false}>
      {!hideLabel && (
        <Field.Label>
          {label} {required && <Field.RequiredIndicator />}
        </Field.Label>
      )}
      {unit ? <InputGroup endElement={unit}>{input}</InputGroup> : input}
      {help && !error && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{error}</Field.ErrorText>
    </Field.Root>
  );
}
