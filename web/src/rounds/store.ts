/* What a round leaves on the phone until it is sent: visits not yet taken, and how far each
   walk has come. Survives a closed browser. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { VisitIn } from "./queries";

export interface Unsent {
  key: string;
  slug: string;
  /** When the card was finished, by the phone's own clock [ms]. */
  madeAt: number;
  label: string;
  visit: VisitIn;
  /** A picture that has not been sent yet. */
  photo: Blob | null;
  /** Why the server would not take it; empty while it was not asked. */
  refused: string;
}

export interface Walk {
  /** slug and round: one walk of a round at a time. */
  id: string;
  startedAt: number;
  done: Record<number, "read" | "skipped">;
  drafts: Record<number, Record<number, string>>;
}

interface FieldBook extends DBSchema {
  unsent: { key: string; value: Unsent; indexes: { slug: string } };
  walks: { key: string; value: Walk };
}

let book: Promise<IDBPDatabase<FieldBook>> | null = null;

function fieldBook(): Promise<IDBPDatabase<FieldBook>> {
  book ??= openDB<FieldBook>("even-furrow", 1, {
    upgrade(db) {
      db.createObjectStore("unsent", { keyPath: "key" }).createIndex("slug", "slug");
      db.createObjectStore("walks", { keyPath: "id" });
    },
  });
  return book;
}

export async function keepUnsent(entry: Unsent): Promise<void> {
  await (await fieldBook()).put("unsent", entry);
}

export async function dropUnsent(key: string): Promise<void> {
  await (await fieldBook()).delete("unsent", key);
}

/** Visits of a farm that the server has not taken, oldest first. */
export async function unsentOf(slug: string): Promise<Unsent[]> {
  const rows = await (await fieldBook()).getAllFromIndex("unsent", "slug", slug);
  return rows.toSorted((a, b) => a.madeAt - b.madeAt);
}

export function walkId(slug: string, round: number): string {
  return `${slug}/${round}`;
}

export async function walkOf(slug: string, round: number): Promise<Walk> {
  const id = walkId(slug, round);
  const kept = await (await fieldBook()).get("walks", id);
  return kept ?? { id, startedAt: Date.now(), done: {}, drafts: {} };
}

export async function keepWalk(walk: Walk): Promise<void> {
  await (await fieldBook()).put("walks", walk);
}

export async function endWalk(slug: string, round: number): Promise<void> {
  await (await fieldBook()).delete("walks", walkId(slug, round));
}
