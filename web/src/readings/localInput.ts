import type { FarmTime } from "../time/farmTime";

/** "2026-07-14T06:10", the farm's clock, as a date-time input wants it. */
export function localInput(time: FarmTime): string {
  const parts = new Intl.DateTimeFormat("sv-SE", {
    timeZone: time.zone,
    dateStyle: "short",
    timeStyle: "short",
  }).format(time.now);
  return parts.replace(" ", "T");
}
