import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type CutPlan = Schemas["CutPlanOut"];
export type CutPlanIn = Schemas["CutPlanIn"];
export type Harvests = Schemas["HarvestsOut"];

const at = (slug: string, id: number) => ({ params: { path: { slug, block_id: id } } });

export function useCutPlan(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "cut-plan"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/blocks/{block_id}/cut-plan", at(slug, id))),
  });
}

export function useSaveCutPlan(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: CutPlanIn) =>
      answered(
        client.PUT("/api/farms/{slug}/blocks/{block_id}/cut-plan", { ...at(slug, id), body }),
      ),
    onSuccess: () => refreshFarm(queries, slug),
  });
}

export function useRemoveCutPlan(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answered(client.DELETE("/api/farms/{slug}/blocks/{block_id}/cut-plan", at(slug, id))),
    onSuccess: () => refreshFarm(queries, slug),
  });
}
