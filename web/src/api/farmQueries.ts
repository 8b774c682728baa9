import type { QueryClient } from "@tanstack/react-query";

/** After a change on a farm every answer of it may differ: what is on screen is fetched
    again, what is not is forgotten, so that no page opens on yesterday's figures. */
export async function refreshFarm(queries: QueryClient, slug: string): Promise<void> {
  const queryKey = ["farm", slug];
  queries.removeQueries({ queryKey, type: "inactive" });
  await queries.invalidateQueries({ queryKey });
}
