import { Checkbox } from "@chakra-ui/react";

interface Props {
  label: string;
  on: boolean;
  change: (on: boolean) => void;
  /** Read out, not shown: beside a row that says it already. */
  hideLabel?: boolean;
  invalid?: boolean;
}

/** A box to tick. */
export function Tick({ label, on, change, hideLabel, invalid }: Props) {
  return (
    <Checkbox.Root
      size="sm"
      display="flex"
      checked={on}
      invalid={invalid ?? false}
      onCheckedChange={(e) => change(e.checked === true)}
    >
      <Checkbox.HiddenInput aria-label={hideLabel ? label : undefined} />
      <Checkbox.Control />
      {!hideLabel && <Checkbox.Label>{label}</Checkbox.Label>}
    </Checkbox.Root>
  );
}
