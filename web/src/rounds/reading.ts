/* A typed figure held against the bounds that the server gave along. */
import type { RoundChannel } from "./queries";

export type Judged =
  | { state: "empty" }
  | { state: "unreadable" }
  | { state: "impossible" }
  | { state: "surprising"; value: number }
  | { state: "fine"; value: number };

/** The number of a typed text; null when it is none. */
export function numberOf(text: string): number | null {
  const cleaned = text.trim().replace(",", ".").replace("−", "-");
  if (cleaned === "" || cleaned === "-") return null;
  const value = Number(cleaned);
  return Number.isFinite(value) ? value : null;
}

export function judged(text: string, channel: RoundChannel): Judged {
  if (text.trim() === "") return { state: "empty" };
  const value = numberOf(text);
  if (value === null) return { state: "unreadable" };
  if (value < channel.possible_low || value > channel.possible_high) return { state: "impossible" };
  const usual = value >= channel.usual_low && value <= channel.usual_high;
  return { state: usual ? "fine" : "surprising", value };
}

/** The text after a key of the pad. */
export function pressed(text: string, key: string): string {
  if (key === "back") return text.slice(0, -1);
  if (key === "minus") return text.startsWith("-") ? text.slice(1) : `-${text}`;
  if (key === "." && text.includes(".")) return text;
  return text.length < 9 ? text + key : text;
}
