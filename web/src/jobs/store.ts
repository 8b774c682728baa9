/* Reports that the server has not taken, on the phone; they survive a closed browser. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { ReportIn } from "./queries";

export interface Unsent {
  key: string;
  slug: string;
  /** When it was reported, by the phone's own clock [ms]. */
  madeAt: number;
  block: string;
  report: ReportIn;
  /** What somebody photographed on the spot; null once it is sent, or without one. */
  photo: Blob | null;
  /** Why the server would not take it; empty while it was not asked. */
  refused: string;
}

interface Reports extends DBSchema {
  unsent: { key: string; value: Unsent; indexes: { slug: string } };
}

let opened: Promise<IDBPDatabase<Reports>> | null = null;

function database(): Promise<IDBPDatabase<Reports>> {
  opened ??= openDB<Reports>("even-furrow-jobs", 1, {
    upgrade(db) {
      db.createObjectStore("unsent", { keyPath: "key" }).createIndex("slug", "slug");
    },
  });
  return opened;
}

export async function keepUnsent(entry: Unsent): Promise<void> {
  await (await database()).put("unsent", entry);
}

export async function dropUnsent(key: string): Promise<void> {
  await (await database()).delete("unsent", key);
}

/** Reports of a farm that the server has not taken, oldest first. */
export async function unsentOf(slug: string): Promise<Unsent[]> {
  const rows = await (await database()).getAllFromIndex("unsent", "slug", slug);
  return rows.toSorted((a, b) => a.madeAt - b.madeAt);
}
