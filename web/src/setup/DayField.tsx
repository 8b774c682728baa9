import { Controller, type UseFormReturn } from "react-hook-form";
import { DateLine } from "../form/DateLine";
import type { BlockForm } from "./form";

interface Props {
  label: string;
  help?: string;
  name: "planted" | "soilFrom";
  form: UseFormReturn<BlockForm>;
}

/** A day of the block's form. */
export function DayField({ label, help, name, form }: Props) {
  return (
    <Controller
      control={form.control}
      name={name}
      render={({ field, fieldState }) => (
        <DateLine
          label={label}
          help={help}
          value={field.value}
          change={field.onChange}
          error={fieldState.error?.message}
        />
      )}
    />
  );
}
