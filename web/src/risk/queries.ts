import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Priced = Schemas["YieldValueOut"];
export type AtRisk = Schemas["AtRiskOut"];

export function useYieldValue(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "yield-value"],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/yield-value", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}
