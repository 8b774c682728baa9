export type Side = "right" | "left" | "none";

interface Mark {
  x: number;
  text: string;
}

const GAP = 6;
const GLYPH = 8;

/** On which side of its mark each figure is written so that none touches another or crosses
    the line of now; where there is no room the mark stands alone. Marks rise along x. */
export function placeFigures(marks: Mark[], now: number): Side[] {
  let taken = Number.NEGATIVE_INFINITY;
  return marks.map(({ x, text }, i) => {
    const width = text.length * GLYPH;
    const next = marks[i + 1]?.x ?? Number.POSITIVE_INFINITY;
    const end = x + GAP + width;
    if (end < next - GAP && (x >= now || end < now)) {
      taken = end;
      return "right";
    }
    const start = x - GAP - width;
    const before = taken;
    taken = x + GAP;
    return start > before && start > 0 ? "left" : "none";
  });
}
