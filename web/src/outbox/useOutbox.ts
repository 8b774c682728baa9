import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { refreshFarm } from "../api/farmQueries";

/** Something on this phone that the server has not taken; ``refused`` says why it would not. */
export interface Waiting {
  key: string;
  slug: string;
  refused: string;
}

/** Where entries of one kind wait, and how they are sent. Queues are told apart by their name. */
export interface Queue<E extends Waiting> {
  name: string;
  waiting: (slug: string) => Promise<E[]>;
  keep: (entry: E) => Promise<void>;
  drop: (key: string) => Promise<void>;
  /** Sends what waits; how many were taken, and why nothing could be sent. */
  send: (slug: string) => Promise<{ sent: number; trouble: string }>;
}

interface Shown<E> {
  waiting: E[];
  trouble: string;
}

const TRY_AGAIN_MS = 30_000;
const sending = new Set<string>();
const keyOf = (name: string, slug: string) => ["outbox", name, slug];

async function tell<E extends Waiting>(
  queries: QueryClient,
  queue: Queue<E>,
  slug: string,
  trouble: string,
): Promise<void> {
  const waiting = await queue.waiting(slug);
  queries.setQueryData<Shown<E>>(keyOf(queue.name, slug), {
    waiting,
    trouble: waiting.length > 0 ? trouble : "",
  });
}

/** Sends what waits, once at a time, and says on screen what is left. */
async function sendNow<E extends Waiting>(
  queries: QueryClient,
  queue: Queue<E>,
  slug: string,
): Promise<void> {
  const busy = `${queue.name} ${slug}`;
  if (sending.has(busy)) return;
  sending.add(busy);
  try {
    const report = await queue.send(slug);
    // The farm is fetched anew before what was sent is let go: in between nothing seems undone.
    if (report.sent > 0) await refreshFarm(queries, slug);
    await tell(queries, queue, slug, report.trouble);
  } finally {
    sending.delete(busy);
  }
}

/** What waits on this phone, and sending it whenever there is a way. */
export function useOutbox<E extends Waiting>(queue: Queue<E>, slug: string) {
  const queries = useQueryClient();
  const shown = useQuery({
    queryKey: keyOf(queue.name, slug),
    queryFn: async (): Promise<Shown<E>> => ({ waiting: await queue.waiting(slug), trouble: "" }),
    networkMode: "always",
    staleTime: Infinity,
  });

  useEffect(() => {
    const again = () => void sendNow(queries, queue, slug);
    again();
    const timer = setInterval(again, TRY_AGAIN_MS);
    window.addEventListener("online", again);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [queries, queue, slug]);

  return {
    waiting: shown.data?.waiting ?? [],
    trouble: shown.data?.trouble ?? "",
    send: () => sendNow(queries, queue, slug),
    add: async (entry: E) => {
      await queue.keep(entry);
      await tell(queries, queue, slug, "");
      void sendNow(queries, queue, slug);
    },
    drop: async (key: string) => {
      await queue.drop(key);
      await tell(queries, queue, slug, "");
    },
  };
}
