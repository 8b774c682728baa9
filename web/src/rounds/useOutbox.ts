import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { refreshFarm } from "../api/farmQueries";
import { sendWaiting } from "./sending";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";

const TRY_AGAIN_MS = 30_000;

interface Outbox {
  waiting: Unsent[];
  trouble: string;
}

const outboxKey = (slug: string) => ["outbox", slug];
const sending = new Set<string>();

async function tell(queries: QueryClient, slug: string, trouble: string): Promise<void> {
  const waiting = await unsentOf(slug);
  queries.setQueryData<Outbox>(outboxKey(slug), { waiting, trouble });
}

/** Sends what waits, once at a time, and says on screen what is left. */
async function sendNow(queries: QueryClient, slug: string): Promise<void> {
  if (sending.has(slug)) return;
  sending.add(slug);
  try {
    const report = await sendWaiting(slug);
    await tell(queries, slug, report.left > 0 ? report.trouble : "");
    if (report.sent > 0) await refreshFarm(queries, slug);
  } finally {
    sending.delete(slug);
  }
}

/** What waits on this phone, and sending it whenever there is a way. */
export function useOutbox(slug: string) {
  const queries = useQueryClient();
  const outbox = useQuery({
    queryKey: outboxKey(slug),
    queryFn: async (): Promise<Outbox> => ({ waiting: await unsentOf(slug), trouble: "" }),
    networkMode: "always",
    staleTime: Infinity,
  });

  useEffect(() => {
    const again = () => void sendNow(queries, slug);
    again();
    const timer = setInterval(again, TRY_AGAIN_MS);
    window.addEventListener("online", again);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [queries, slug]);

  return {
    waiting: outbox.data?.waiting ?? [],
    trouble: outbox.data?.trouble ?? "",
    send: () => sendNow(queries, slug),
    add: async (entry: Unsent) => {
      await keepUnsent(entry);
      await tell(queries, slug, "");
      void sendNow(queries, slug);
    },
    drop: async (key: string) => {
      await dropUnsent(key);
      await tell(queries, slug, "");
    },
  };
}
