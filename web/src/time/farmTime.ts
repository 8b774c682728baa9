/* Instants in the farm's own time zone, never the browser's. */

import { locale } from "../language/language";
import { shownDay } from "./enteredDate";
import { t } from "./t";

const cache = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone}|${JSON.stringify(options)}`;
  let made = cache.get(key);
  if (!made) {
    made = new Intl.DateTimeFormat(locale, { timeZone: zone, ...options });
    cache.set(key, made);
  }
  return made;
}

function parts(zone: string, at: Date, options: Intl.DateTimeFormatOptions) {
  const found: Record<string, string> = {};
  for (const part of format(zone, options).formatToParts(at)) found[part.type] = part.value;
  return found;
}

export class FarmTime {
  readonly now: Date;

  constructor(
    now: string,
    readonly zone: string,
  ) {
    this.now = new Date(now);
  }

  /** The instant some hours from now. */
  at(hours: number): Date {
    return new Date(this.now.getTime() + hours * 3_600_000);
  }

  hoursTo(instant: string | Date): number {
    return (new Date(instant).getTime() - this.now.getTime()) / 3_600_000;
  }

  weekday(at: Date): string {
    return parts(this.zone, at, { weekday: "short" })["weekday"] ?? "";
  }

  dayOfMonth(at: Date): string {
    return parts(this.zone, at, { day: "numeric" })["day"] ?? "";
  }

  clock(at: Date): string {
    const p = parts(this.zone, at, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
    return `${p["hour"]}:${p["minute"]}`;
  }

  /** "14 July", or "July 14" where people write it so. */
  date(at: Date): string {
    return format(this.zone, { day: "numeric", month: "long" }).format(at);
  }

  /** "Tue 14 July 06:10" */
  full(at: Date): string {
    return `${this.weekdayAndDate(at)} ${this.clock(at)}`;
  }

  /** "Tue 14 July" */
  weekdayAndDate(at: Date): string {
    return `${this.weekday(at)} ${this.date(at)}`;
  }

  /** "14 Jul 2026" */
  dayWithYear(at: Date): string {
    return shownDay(this.dayKey(at));
  }

  private dayKey(at: Date): string {
    const p = parts(this.zone, at, { year: "numeric", month: "2-digit", day: "2-digit" });
    return `${p["year"]}-${p["month"]}-${p["day"]}`;
  }

  isToday(at: Date): boolean {
    return this.dayKey(at) === this.dayKey(this.now);
  }

  hour(at: Date): number {
    return Number(this.clock(at).slice(0, 2));
  }

  /** "today", "tomorrow", "Thu", or "24 July" when a week off or more. */
  day(at: Date): string {
    if (this.isToday(at)) return t("time.today");
    if (this.dayKey(at) === this.dayKey(this.at(24))) return t("time.tomorrow");
    const away = Math.abs(at.getTime() - this.now.getTime()) / 3_600_000;
    return away < 6.5 * 24 ? this.weekday(at) : this.date(at);
  }

  /** Hours from now of each local midnight between two hours. */
  midnights(from: number, to: number): number[] {
    const found: number[] = [];
    const past = this.minutesPast() / 60;
    let last = this.dayKey(this.at(from));
    // Step by the hour, on the hour: a local day may have 23 or 25.
    for (let hours = Math.ceil(from + past) - past; hours <= to; hours += 1) {
      const key = this.dayKey(this.at(hours));
      if (key !== last) found.push(hours);
      last = key;
    }
    return found;
  }

  private minutesPast(): number {
    return Number(parts(this.zone, this.now, { minute: "2-digit" })["minute"] ?? 0);
  }
}

/** "2 d", "16 h", "10 min" */
export function span(hours: number): string {
  if (hours < 1) return t("time.min", { max: Math.max(Math.round(hours * 60), 1) });
  return hours >= 36 ? `${Math.round(hours / 24)} d` : `${Math.round(hours)} h`;
}

/** How long something has lasted, in words: "3 days", "16 hours". */
export function lasting(hours: number): string {
  if (hours >= 36) return t("time.daysPluralOneDay", { days: Math.round(hours / 24) });
  return t("time.hoursPluralOneHour", { hours: Math.max(Math.round(hours), 1) });
}
