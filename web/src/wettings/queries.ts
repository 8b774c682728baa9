import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Wetting = Schemas["WettingOut"];

/** All wetting events kept of a block, in order of arrival. */
export function useWettings(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "wettings"],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/wettings", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}
