import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type BlockData = Schemas["BlockOut"];
export type Series = Schemas["SeriesOut"];
export type SiteSeries = Schemas["SiteSeries"];
export type Step = Schemas["Step"];
export type Term = Schemas["Term"];
export type LayerRow = Schemas["LayerRow"];
export type DayRow = Schemas["DayRow"];

const blockKey = (slug: string, id: number) => ["farm", slug, "block", id];

export function useBlock(slug: string, id: number) {
  return useQuery({
    queryKey: blockKey(slug, id),
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

export function useSeries(slug: string, id: number, days: number) {
  return useQuery({
    queryKey: [...blockKey(slug, id), "series", days],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/series", {
          params: { path: { slug, block_id: id }, query: { days } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

export function useMarkChannel(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, suspect }: { id: number; suspect: boolean }) =>
      answered(
        client.PATCH("/api/farms/{slug}/channels/{channel_id}", {
          params: { path: { slug, channel_id: id } },
          body: { suspect },
        }),
      ),
    onSuccess: () => refreshFarm(queries, slug),
  });
}
