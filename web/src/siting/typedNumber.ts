/** A number as a person typed it; null of an empty field. */
export function typedNumber(text: string | undefined): number | null {
  return text === undefined || text.trim() === "" ? null : Number(text.replace(",", "."));
}
