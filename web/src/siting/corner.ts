/* A corner of a picture as it is typed: latitude first, as maps give it. */

export interface Corner {
  east: number;
  north: number;
}

/** "56.4012, 3.0511" as a corner; null where it is no two numbers. */
export function cornerOf(text: string): Corner | null {
  const parts = text
    .trim()
    .split(/\s*[;\s]\s*|,\s+|,(?=-?\d+\.\d)/)
    .filter(Boolean)
    .map((part) => Number(part.replace(/,$/, "").replace(",", ".")));
  const [north, east] = parts;
  if (parts.length !== 2 || north === undefined || east === undefined) return null;
  return Number.isFinite(north) && Number.isFinite(east) ? { east, north } : null;
}

export const cornerText = (corner: Corner | undefined) =>
  corner ? `${corner.north}, ${corner.east}` : "";
