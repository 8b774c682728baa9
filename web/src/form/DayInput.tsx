import { IconButton, Input, InputGroup } from "@chakra-ui/react";
import { CalendarDays } from "lucide-react";
import { useRef, type ChangeEvent } from "react";
import { isDay, readDay, shownDay } from "../time/enteredDate";
import { localInput } from "../time/localInput";
import { useFarmTime } from "../time/useFarmTime";
import { EXAMPLE_DAY } from "./dayProblem";
import { t } from "./t";
import { useTyped } from "./useTyped";

interface Props {
  label: string;
  /** An ISO day; what was typed, where that is none. */
  value: string;
  change: (value: string) => void;
  /** Told of a moment, "2026-07-14T06:10", where one is pasted. */
  moment?: (value: string) => void;
}

/** A day typed the way its reader writes dates, or picked from the browser's calendar. */
export function DayInput({ label, value, change, moment }: Props) {
  const calendar = useRef<HTMLInputElement>(null);
  const time = useFarmTime();
  // A day without a year is one of the farm's; before its clock is known there is none.
  const year = time ? Number(localInput(time).slice(0, 4)) : 0;
  const typed = useTyped(value, change, (text) => readDay(text, year), shownDay);
  function type(event: ChangeEvent<HTMLInputElement>) {
    const text = event.target.value;
    if (moment && /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(text)) moment(text);
    else typed.type(text);
  }
  return (
    <InputGroup
      endElementProps={{ px: "1" }}
      endElement={
        <>
          <input
            ref={calendar}
            type="date"
            tabIndex={-1}
            aria-hidden
            // Empty, not today: to pick what stands there already would change nothing.
            value={isDay(value) ? value : ""}
            onChange={(e) => change(e.target.value)}
            style={{ position: "absolute", bottom: 0, width: 1, opacity: 0, pointerEvents: "none" }}
          />
          <IconButton
            size="2xs"
            variant="ghost"
            aria-label={t("form.pickDay", { label })}
            onClick={() => calendar.current?.showPicker()}
          >
            <CalendarDays aria-hidden />
          </IconButton>
        </>
      }
    >
      <Input
        size="sm"
        bg="sheet"
        pe="8"
        autoComplete="off"
        placeholder={EXAMPLE_DAY}
        value={typed.text}
        onChange={type}
        onBlur={typed.leave}
      />
    </InputGroup>
  );
}
