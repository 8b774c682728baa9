import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type HistoryData = Schemas["HistoryOut"];
export type HistoryRow = Schemas["HistoryRow"];
export type PastAdvice = Schemas["PastAdviceOut"];

export function useHistory(slug: string, block: number, days: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", block, "history", days],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/advice", {
          params: { path: { slug, block_id: block }, query: { days } },
        }),
      ),
  });
}

export function usePastAdvice(slug: string, block: number, advice: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", block, "advice", advice],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/advice/{advice_id}", {
          params: { path: { slug, block_id: block, advice_id: advice } },
        }),
      ),
  });
}
