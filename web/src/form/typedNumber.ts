/** A number as a person typed it; null of an empty field, and of what is none. */
export function typedNumber(text: string | undefined): number | null {
  const value = Number((text ?? "").replace(",", "."));
  return (text ?? "").trim() !== "" && Number.isFinite(value) ? value : null;
}
