import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Wetting = Schemas["WettingOut"];
export type Roots = Schemas["RootActivityOut"];
export type RunHours = Schemas["RunHoursOut"];

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

/** What the last irrigations say of how long one should run; null where they tell nothing yet. */
export function useRunHours(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "run-hours"],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/run-hours", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

/** How deep roots feed at each instrument that tells it. */
export function useRootActivity(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "root-activity"],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/root-activity", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}
