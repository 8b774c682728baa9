/** Digits behind the point that tell ticks apart: 0, 100, 200 need none, 0, 0.05, 0.1 two. */
export function tickDigits(ticks: number[]): number {
  const step = (ticks[1] ?? 1) - (ticks[0] ?? 0);
  return step > 0 ? Math.max(0, -Math.floor(Math.log10(step) + 1e-9)) : 0;
}
