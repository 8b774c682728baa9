import { Field, NativeSelect } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { UseFormRegisterReturn } from "react-hook-form";

interface Props {
  label: string;
  field: UseFormRegisterReturn;
  error?: string | undefined;
  help?: string | undefined;
  hideLabel?: boolean;
  children: ReactNode;
}

/** A labelled choice. */
export function ChoiceField({ label, field, error, help, hideLabel, children }: Props) {
  return (
    <Field.Root invalid={Boolean(error)}>
      {!hideLabel && <Field.Label>{label}</Field.Label>}
      <NativeSelect.Root size="sm">
        <NativeSelect.Field aria-label={hideLabel ? label : undefined} bg="sheet" {...field}>
          {children}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {help && !error && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{error}</Field.ErrorText>
    </Field.Root>
  );
}
