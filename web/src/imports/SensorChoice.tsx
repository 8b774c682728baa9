import { NativeSelect } from "@chakra-ui/react";
import { useMemo, type ReactNode } from "react";
import { depthLabel, quantityName, unitName } from "../instruments/words";
import { useSignedIn } from "../session/context";
import type { Sensor } from "./queries";

interface Props {
  label: string;
  value: string;
  sensors: Sensor[];
  choose: (value: string) => void;
  /** Turns a channel into the value of its option. */
  named: (channel: number) => string;
  invalid?: boolean;
  disabled?: boolean;
  children: ReactNode;
}

/** A choice among the farm's sensors, by instrument; other uses come first, as children. */
export function SensorChoice(props: Props) {
  const { units } = useSignedIn();
  const groups = useMemo(() => {
    const found = new Map<string, Sensor[]>();
    for (const s of props.sensors) {
      const name = `${s.block}, ${s.instrument}`;
      found.set(name, [...(found.get(name) ?? []), s]);
    }
    return [...found];
  }, [props.sensors]);
  return (
    <NativeSelect.Root
      size="xs"
      minW="128px"
      disabled={props.disabled ?? false}
      invalid={props.invalid ?? false}
    >
      <NativeSelect.Field
        bg="sheet"
        aria-label={props.label}
        value={props.value}
        onChange={(e) => props.choose(e.target.value)}
      >
        {props.children}
        {groups.map(([name, rows]) => (
          <optgroup key={name} label={name}>
            {rows.map((s) => (
              <option key={s.channel_id} value={props.named(s.channel_id)}>
                {depthLabel(s.depth_mm, units)}
                {rows.some((o) => o.quantity !== s.quantity) &&
                  ` ${quantityName(s.quantity)}`}, {s.instrument}
              </option>
            ))}
          </optgroup>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}

interface UnitProps {
  label: string;
  units: Sensor["units"];
  value: Sensor["units"][number];
  choose: (unit: Sensor["units"][number]) => void;
  disabled?: boolean;
}

/** The unit that a column is written in. */
export function ColumnUnit({ label, units, value, choose, disabled }: UnitProps) {
  return (
    <NativeSelect.Root size="xs" minW="84px" disabled={disabled ?? false}>
      <NativeSelect.Field
        bg="sheet"
        aria-label={label}
        value={value}
        onChange={(e) => choose(e.target.value as typeof value)}
      >
        {units.map((u) => (
          <option key={u} value={u}>
            {unitName(u)}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
