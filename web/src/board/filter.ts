/* What of the board is shown, and in which groups; kept in the address so that it can be sent. */

import type { BoardRow } from "./queries";
import { t } from "./t";

export type Part = "crop" | "system" | "supply" | "irrigator";

export const PARTS: Record<Part, string> = {
  crop: t("board.crop"),
  system: t("board.system"),
  supply: t("board.waterSupply"),
  irrigator: t("board.irrigator"),
};

export interface Wanted {
  find: string;
  group: Part | "";
  /** One value of one part, as "crop:Potato". */
  only: string;
}

export const EVERYTHING: Wanted = { find: "", group: "", only: "" };

/** A part's value on a row; what has none is told so. */
export function partOf(row: BoardRow, part: Part): string {
  const value =
    part === "crop" ? row.crop : part === "system" ? t(`system.${row.system}`) : row[part];
  return value || t("board.no", { part: PARTS[part] });
}

/** The values of a part that the rows have, in order. */
export function valuesOf(rows: BoardRow[], part: Part): string[] {
  return [...new Set(rows.map((r) => partOf(r, part)))].toSorted((a, b) => a.localeCompare(b));
}

export function fitting(rows: BoardRow[], wanted: Wanted): BoardRow[] {
  const words = wanted.find.trim().toLowerCase();
  const colon = wanted.only.indexOf(":");
  const part = wanted.only.slice(0, Math.max(colon, 0)) as Part | "";
  const value = wanted.only.slice(colon + 1);
  return rows.filter(
    (r) =>
      (!words || [r.name, r.crop, r.supply, r.irrigator].join(" ").toLowerCase().includes(words)) &&
      (!part || !(part in PARTS) || partOf(r, part) === value),
  );
}

export interface Group {
  name: string;
  rows: BoardRow[];
}

/** Rows in groups, the group with the most urgent row first; one without a name when there are
    none. The rows keep their order. */
export function grouped(rows: BoardRow[], part: Part | ""): Group[] {
  if (!part) return [{ name: "", rows }];
  const found = new Map<string, BoardRow[]>();
  for (const row of rows) {
    const name = partOf(row, part);
    const there = found.get(name);
    if (there) there.push(row);
    else found.set(name, [row]);
  }
  return [...found].map(([name, members]) => ({ name, rows: members }));
}

/** What the address asks for. */
export function wantedOf(query: URLSearchParams): Wanted {
  const group = query.get("group") ?? "";
  return {
    find: query.get("find") ?? "",
    group: group in PARTS ? (group as Part) : "",
    only: query.get("only") ?? "",
  };
}

export function queryOf(wanted: Wanted): Record<string, string> {
  return Object.fromEntries(Object.entries(wanted).filter(([, v]) => v !== ""));
}
