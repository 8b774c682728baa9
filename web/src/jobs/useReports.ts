import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { refreshFarm } from "../api/farmQueries";
import { sendWaiting } from "./sending";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";

const TRY_AGAIN_MS = 30_000;

interface Waiting {
  unsent: Unsent[];
  trouble: string;
}

const keyOf = (slug: string) => ["field-reports", slug];
const sending = new Set<string>();

async function tell(queries: QueryClient, slug: string, trouble: string): Promise<void> {
  const unsent = await unsentOf(slug);
  queries.setQueryData<Waiting>(keyOf(slug), { unsent, trouble });
}

async function sendNow(queries: QueryClient, slug: string): Promise<void> {
  if (sending.has(slug)) return;
  sending.add(slug);
  try {
    const report = await sendWaiting(slug);
    // The farm is fetched anew before what was sent is let go: in between nothing seems undone.
    if (report.sent > 0) await refreshFarm(queries, slug);
    await tell(queries, slug, report.trouble);
  } finally {
    sending.delete(slug);
  }
}

/** Reports that wait on this phone, and sending them whenever there is a way. */
export function useReports(slug: string) {
  const queries = useQueryClient();
  const waiting = useQuery({
    queryKey: keyOf(slug),
    queryFn: async (): Promise<Waiting> => ({ unsent: await unsentOf(slug), trouble: "" }),
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
    unsent: waiting.data?.unsent ?? [],
    trouble: waiting.data?.trouble ?? "",
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
