/* Rounds of leaf readings that the server has not taken, on the phone; they survive a closed
   browser. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { StemRoundIn } from "./queries";

export interface UnsentRound {
  key: string;
  slug: string;
  /** When it was saved, by the phone's own clock [ms]. */
  madeAt: number;
  block: { id: number; name: string };
  round: StemRoundIn;
  /** Why the server would not take it; empty while it was not asked. */
  refused: string;
}

interface Rounds extends DBSchema {
  unsent: { key: string; value: UnsentRound; indexes: { slug: string } };
}

let opened: Promise<IDBPDatabase<Rounds>> | null = null;

function database(): Promise<IDBPDatabase<Rounds>> {
  opened ??= openDB<Rounds>("even-furrow-leaf-rounds", 1, {
    upgrade(db) {
      db.createObjectStore("unsent", { keyPath: "key" }).createIndex("slug", "slug");
    },
  });
  return opened;
}

export async function keepRound(entry: UnsentRound): Promise<void> {
  await (await database()).put("unsent", entry);
}

export async function dropRound(key: string): Promise<void> {
  await (await database()).delete("unsent", key);
}

/** Rounds of a farm that the server has not taken, oldest first. */
export async function roundsOf(slug: string): Promise<UnsentRound[]> {
  const rows = await (await database()).getAllFromIndex("unsent", "slug", slug);
  return rows.toSorted((a, b) => a.madeAt - b.madeAt);
}
