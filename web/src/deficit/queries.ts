import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type LessWater = Schemas["LessWaterOut"];
export type LessWaterIn = Schemas["LessWaterIn"];
export type DeficitSaid = Schemas["DeficitOut"];

const at = (slug: string, id: number) => ({ params: { path: { slug, block_id: id } } });

export function useLessWater(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "less-water"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/blocks/{block_id}/less-water", at(slug, id))),
  });
}

export function useSaveLessWater(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: LessWaterIn) =>
      answered(
        client.PUT("/api/farms/{slug}/blocks/{block_id}/less-water", { ...at(slug, id), body }),
      ),
    onSuccess: () => refreshFarm(queries, slug),
  });
}

export function useRemoveLessWater(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answered(client.DELETE("/api/farms/{slug}/blocks/{block_id}/less-water", at(slug, id))),
    onSuccess: () => refreshFarm(queries, slug),
  });
}
