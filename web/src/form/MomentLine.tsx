import { Field, Flex, Input } from "@chakra-ui/react";
import { isTime, readTime } from "../time/enteredTime";
import { DayInput } from "./DayInput";
import { dayProblem } from "./dayProblem";
import { t } from "./t";
import { useTyped } from "./useTyped";

interface Props {
  label: string;
  /** "2026-07-14T06:10", by the farm's clock. */
  value: string;
  change: (value: string) => void;
  error?: string | undefined;
}

/** A labelled day and time of day, on a clock of 24 hours. */
export function MomentLine({ label, value, change, error }: Props) {
  const [day = "", time = ""] = value.split("T");
  const put = (nextDay: string, nextTime: string) =>
    change(nextDay || nextTime ? `${nextDay}T${nextTime}` : "");
  const typed = useTyped(
    time,
    (next) => put(day, next),
    readTime,
    (text) => text,
  );
  const unread =
    dayProblem(day) ??
    (value !== "" && !typed.typing && !isTime(time) ? t("form.enterATime") : undefined);
  const problem = error ?? unread;
  return (
    <Field.Root invalid={Boolean(problem)}>
      <Field.Label>{label}</Field.Label>
      <Flex gap="2" w="100%" maxW="300px">
        <DayInput label={label} value={day} change={(next) => put(next, time)} moment={change} />
        {/* The field's own name and problem belong to its day. */}
        <Field.Root w="72px" flexShrink={0} invalid={Boolean(problem)}>
          <Input
            size="sm"
            bg="sheet"
            inputMode="numeric"
            autoComplete="off"
            aria-label={t("form.timeOf", { label })}
            placeholder="06:10"
            value={typed.text}
            onChange={(e) => typed.type(e.target.value)}
            onBlur={typed.leave}
          />
        </Field.Root>
      </Flex>
      <Field.ErrorText>{problem}</Field.ErrorText>
    </Field.Root>
  );
}
