import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type Ponded = Schemas["PondedOut"];
export type LevelPoint = Schemas["LevelPoint"];
export type Paddy = Schemas["PaddyOut"];
export type PaddyIn = Schemas["PaddyIn"];
export type RiceSeason = Schemas["PaddySeasonOut"];
export type SupplyFields = Schemas["SupplyFields"];

const at = (slug: string, id: number) => ({ params: { path: { slug, block_id: id } } });

export function usePaddy(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "paddy"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/blocks/{block_id}/paddy", at(slug, id))),
  });
}

export function useRiceSeason(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "paddy", "season"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/blocks/{block_id}/paddy/season", at(slug, id))),
  });
}

export function useRiceFields(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "rice-fields"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/rice-fields", { params: { path: { slug } } })),
  });
}

function useChange<Of, Out>(slug: string, change: (of: Of) => Promise<Out>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: () => refreshFarm(queries, slug) });
}

export function useSavePaddy(slug: string, id: number) {
  return useChange(slug, (body: PaddyIn) =>
    answered(client.PUT("/api/farms/{slug}/blocks/{block_id}/paddy", { ...at(slug, id), body })),
  );
}

export function useRemovePaddy(slug: string, id: number) {
  return useChange(slug, () =>
    answered(client.DELETE("/api/farms/{slug}/blocks/{block_id}/paddy", at(slug, id))),
  );
}

export function useSetThreshold(slug: string, id: number) {
  return useChange(slug, (body: { threshold_mm: number; no_harm: boolean }) =>
    answered(
      client.PUT("/api/farms/{slug}/blocks/{block_id}/paddy/threshold", {
        ...at(slug, id),
        body,
      }),
    ),
  );
}

export function useNitrogenDone(slug: string, id: number) {
  return useChange(slug, (on: string) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/paddy/nitrogen", {
        ...at(slug, id),
        body: { on },
      }),
    ),
  );
}
