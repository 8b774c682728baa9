import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Change = Schemas["EntryOut"];

/** Which entries are asked for; null and "" leave it open. */
export interface Wanted {
  by: number | null;
  find: string;
}

/** The change history, newest first, page by page. */
export function useChanges(slug: string, { by, find }: Wanted) {
  return useInfiniteQuery({
    queryKey: ["farm", slug, "changes", by, find],
    initialPageParam: null as number | null,
    queryFn: ({ pageParam }) =>
      answered(
        client.GET("/api/farms/{slug}/changes", {
          params: { path: { slug }, query: { before: pageParam, by, find } },
        }),
      ),
    getNextPageParam: (page) => page.older,
    placeholderData: keepPreviousData,
  });
}

export function useUndoChange(slug: string) {
  return useChange(slug, (change: number) =>
    answered(
      client.POST("/api/farms/{slug}/changes/{change_id}/undo", {
        params: { path: { slug, change_id: change } },
      }),
    ),
  );
}
