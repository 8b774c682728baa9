import { useQueries } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Course = Schemas["SeasonCourseOut"];

/** Seasons of a block day by day, each fetched once. */
export function useCourses(slug: string, block: number, seasons: number[]) {
  return useQueries({
    queries: seasons.map((season) => ({
      queryKey: ["farm", slug, "block", block, "course", season],
      queryFn: () =>
        answered(
          client.GET("/api/farms/{slug}/blocks/{block_id}/seasons/{season_id}/course", {
            params: { path: { slug, block_id: block, season_id: season } },
          }),
        ),
    })),
  });
}
