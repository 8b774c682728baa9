import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type BlockIn = Schemas["BlockIn"];
export type BlockSetup = Schemas["BlockSetupOut"];
export type Catalogue = Schemas["CatalogueOut"];

export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: () => answered(client.GET("/api/catalogue")),
    staleTime: Infinity,
  });
}

export function useSetup(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "setup", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/setup", {
          params: { path: { slug, block_id: id } },
        }),
      ),
    staleTime: 0,
    gcTime: 0,
  });
}

export function useSaveBlock(slug: string, id: number | null) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: BlockIn) =>
      id === null
        ? answered(client.POST("/api/farms/{slug}/blocks", { params: { path: { slug } }, body }))
        : answered(
            client.PUT("/api/farms/{slug}/blocks/{block_id}/setup", {
              params: { path: { slug, block_id: id } },
              body,
            }),
          ),
    onSuccess: () => refreshFarm(queries, slug),
  });
}
