/* Which of a farm's blocks a picker shows, and under which headings. */

import { t } from "./t";

export interface PickableBlock {
  id: number;
  name: string;
  system: string;
  supply: string;
  irrigator: string | null;
}

export type GroupBy = "" | "system" | "supply" | "irrigator";

export const GROUPINGS: Record<GroupBy, string> = {
  "": t("form.none"),
  system: t("form.system"),
  supply: t("form.waterSupply"),
  irrigator: t("form.irrigator"),
};

export interface BlockGroup {
  /** Empty where there are no groups. */
  name: string;
  blocks: PickableBlock[];
}

const byName = (a: { name: string }, b: { name: string }) =>
  a.name.localeCompare(b.name, undefined, { numeric: true });

/** Blocks whose name, system, supply or irrigator holds every word, grouped, by name. */
export function blockGroups(blocks: PickableBlock[], find: string, by: GroupBy): BlockGroup[] {
  const words = find.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const fit = blocks.filter((b) => {
    const text = `${b.name} ${b.system} ${b.supply} ${b.irrigator ?? ""}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
  const groups = new Map<string, PickableBlock[]>();
  for (const block of fit) {
    const name = by === "" ? "" : block[by] || t("form.no", { by: GROUPINGS[by] });
    groups.set(name, [...(groups.get(name) ?? []), block]);
  }
  return [...groups]
    .map(([name, rows]) => ({ name, blocks: rows.toSorted(byName) }))
    .toSorted(byName);
}

/** The selection with blocks added to it, or taken out of it. */
export function withBlocks(chosen: number[], blocks: PickableBlock[], on: boolean): number[] {
  const ids = new Set(blocks.map((b) => b.id));
  const others = chosen.filter((id) => !ids.has(id));
  return on ? [...others, ...ids] : others;
}
