import { UNKNOWN, number } from "./format";

/** Money in the farm's currency: small sums with their cents, "€ 8.40", large ones without. */
export function money(value: number | null | undefined, currency: string): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return UNKNOWN;
  const text = number(value, Math.abs(value) < 20 && value !== 0 ? 2 : 0);
  return currency ? `${currency} ${text}` : text;
}

/** A difference with its sign: "+€ 12", "−€ 8.40"; what rounds to nothing has none. */
export function moneyMore(value: number, currency: string): string {
  if (Math.abs(value) < 0.005) return money(0, currency);
  return `${value > 0 ? "+" : "−"}${money(Math.abs(value), currency)}`;
}
