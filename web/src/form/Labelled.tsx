import { Field, Input, InputGroup, NativeSelect } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { notNumber } from "./notNumber";

interface Common {
  label: string;
  value: string;
  change: (value: string) => void;
  error?: string | undefined;
  help?: string | undefined;
  disabled?: boolean;
}

interface LineProps extends Common {
  unit?: string;
  numeric?: boolean;
  type?: "text" | "search";
  placeholder?: string;
  required?: boolean;
}

/** An input held by its page: label, unit, help, and what is wrong with it. */
export function Line({
  label,
  value,
  change,
  error,
  help,
  disabled,
  unit,
  numeric,
  type = "text",
  placeholder,
  required,
}: LineProps) {
  const wrong = numeric ? notNumber(value) : undefined;
  const shown = error ?? wrong;
  const input = (
    <Input
      // A form is not sent while it holds what is no number: as empty it would go unseen.
      ref={(element) => element?.setCustomValidity(wrong ?? "")}
      size="sm"
      bg="sheet"
      type={type}
      autoComplete="off"
      value={value}
      placeholder={placeholder}
      inputMode={numeric ? "decimal" : undefined}
      onChange={(e) => change(e.target.value)}
    />
  );
  return (
    <Field.Root invalid={Boolean(shown)} disabled={disabled ?? false} required={required ?? false}>
      <Field.Label>
        {label} {required && <Field.RequiredIndicator />}
      </Field.Label>
      {unit ? <InputGroup endElement={unit}>{input}</InputGroup> : input}
      {help && !shown && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{shown}</Field.ErrorText>
    </Field.Root>
  );
}

/** A choice held by its page. */
export function Choice({
  label,
  value,
  change,
  error,
  help,
  disabled,
  children,
}: Common & { children: ReactNode }) {
  return (
    <Field.Root invalid={Boolean(error)} disabled={disabled ?? false}>
      <Field.Label>{label}</Field.Label>
      <NativeSelect.Root size="sm" disabled={disabled ?? false}>
        <NativeSelect.Field bg="sheet" value={value} onChange={(e) => change(e.target.value)}>
          {children}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {help && !error && <Field.HelperText>{help}</Field.HelperText>}
      <Field.ErrorText>{error}</Field.ErrorText>
    </Field.Root>
  );
}
