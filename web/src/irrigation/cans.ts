import { typed, type UnitSystem } from "../units/format";

/** Numbers typed one after the other, in the server's unit; the first that is none is named. */
export function cansIn(
  text: string,
  units: UnitSystem,
  as: "water" | "length",
): { values: number[]; wrong: string | null } {
  const values: number[] = [];
  for (const word of text.split(/[\s;]+/).filter(Boolean)) {
    const value = typed(word.replace(/,$/, ""), units, as);
    if (value === null) return { values, wrong: word };
    values.push(value);
  }
  return { values, wrong: null };
}
