import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Note = Schemas["NoteOut"];

/** Notes in the logs of a block's instruments, the newest first. */
export function useNotes(slug: string, block: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", block, "notes"],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/notes", {
          params: { path: { slug, block_id: block } },
        }),
      ),
  });
}
