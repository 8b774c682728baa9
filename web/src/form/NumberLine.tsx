import { useState } from "react";
import { useSignedIn } from "../session/context";
import { asText, forForm, measure, typed, type MeasureName } from "../units/format";
import { Line } from "./Labelled";
import { typedNumber } from "./typedNumber";

interface Props {
  label: string;
  /** As the server has it. */
  value: number | null | undefined;
  change: (value: number | null) => void;
  /** Shown and typed in the person's unit of it; else as it is, in `unit`. */
  measured?: MeasureName;
  unit?: string;
  error?: string | undefined;
  help?: string;
  disabled?: boolean;
}

/** A number held by its page; its text stays as it is typed, "7." on the way to 7.5. */
export function NumberLine({ value, change, measured, unit, ...line }: Props) {
  const { units } = useSignedIn();
  const [text, setText] = useState(measured ? forForm(value, units, measured) : asText(value));
  const label = measured ? measure(units, measured).label : unit;
  return (
    <Line
      {...line}
      value={text}
      {...(label !== undefined && { unit: label })}
      numeric
      change={(next) => {
        setText(next);
        change(measured ? typed(next, units, measured) : typedNumber(next));
      }}
    />
  );
}
