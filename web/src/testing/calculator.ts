/* What a person with a calculator does with the figures that stand on screen. */

const KEYS = {
  min: Math.min,
  max: Math.max,
  ceil: Math.ceil,
  ln: Math.log,
  within: (low: number, x: number, high: number) => Math.min(Math.max(x, low), high),
};

/** The value of a sum as it is typeset: "(24.6 − 4) ÷ 0.85". */
export function workedOut(figures: string): number {
  const typed = figures
    .replaceAll("×", "*")
    .replaceAll("÷", "/")
    .replaceAll("−", "-")
    .replaceAll("^", "**")
    .replaceAll(/(\d),(?=\d{3})/g, "$1");
  // oxlint-disable-next-line no-implied-eval -- the formulas are the tests' own
  const sum = new Function(...Object.keys(KEYS), `return ${typed}`) as (...f: unknown[]) => number;
  return sum(...Object.values(KEYS));
}
