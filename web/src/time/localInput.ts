import type { FarmTime } from "./farmTime";

/** "2026-07-14T06:10", an instant by the farm's clock, as a date-time input wants it; now by
    default. */
export function localInput(time: FarmTime, at: Date = time.now): string {
  const parts = new Intl.DateTimeFormat("sv-SE", {
    timeZone: time.zone,
    dateStyle: "short",
    timeStyle: "short",
  }).format(at);
  return parts.replace(" ", "T");
}
