import { NativeSelect } from "@chakra-ui/react";
import { t } from "./t";

interface Props {
  choices: readonly number[];
  days: number;
  change: (days: number) => void;
}

/** How far back a page looks. */
export function DaysBack({ choices, days, change }: Props) {
  return (
    <NativeSelect.Root size="sm" w="150px">
      <NativeSelect.Field
        aria-label={t("form.period")}
        bg="sheet"
        value={days}
        onChange={(e) => change(Number(e.target.value))}
      >
        {choices.map((d) => (
          <option key={d} value={d}>
            {t("form.lastDays", { d })}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
