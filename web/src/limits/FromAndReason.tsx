import { DateLine } from "../form/DateLine";
import { Line } from "../form/Labelled";
import { t } from "./t";

interface Props {
  from: string;
  setFrom: (from: string) => void;
  reason: string;
  setReason: (reason: string) => void;
  problems: Record<string, string>;
}

/** From which day something that was seen is adopted, and why. */
export function FromAndReason({ from, setFrom, reason, setReason, problems }: Props) {
  return (
    <>
      <DateLine
        label={t("limits.fromDay")}
        value={from}
        change={setFrom}
        error={problems["from_on"]}
      />
      <Line
        label={t("limits.reason")}
        value={reason}
        change={setReason}
        error={problems["reason"]}
      />
    </>
  );
}
