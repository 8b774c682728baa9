import type { BlockLine } from "./queries";
import { t } from "./t";

export interface Wanted {
  search: string;
  crop: string;
  soil: string;
  system: string;
}

export const ALL: Wanted = { search: "", crop: "", soil: "", system: "" };

/** Blocks that fit the words and the choices; an empty choice fits all. */
export function fitting(rows: BlockLine[], wanted: Wanted): BlockLine[] {
  const words = wanted.search.trim().toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((r) => {
    const text = `${r.name} ${r.crop ?? ""} ${r.soil} ${r.system} ${r.stage ?? ""}`.toLowerCase();
    return (
      words.every((w) => text.includes(w)) &&
      (!wanted.crop || (r.crop ?? t("ground.noCrop")) === wanted.crop) &&
      (!wanted.soil || r.soil === wanted.soil) &&
      (!wanted.system || r.system === wanted.system)
    );
  });
}

/** The different values of a column, in order. */
export function choices<Value extends string>(
  rows: BlockLine[],
  of: (r: BlockLine) => Value,
): Value[] {
  return [...new Set(rows.map(of))].toSorted((a, b) => a.localeCompare(b));
}
