import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type BlockIn = Schemas["BlockIn"];
export type BlockSetup = Schemas["BlockSetupOut"];
export type Catalogue = Schemas["CatalogueOut"];
export type SoilPreview = Schemas["SoilPreviewOut"];
export type SoilPreviewIn = Schemas["SoilPreviewIn"];

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

/** Limits of the soil as typed so far; the last good answer stays while the next is fetched. */
export function usePreview(slug: string, body: SoilPreviewIn | null) {
  return useQuery({
    queryKey: ["farm", slug, "soil-preview", body],
    queryFn: () =>
      answered(
        client.POST("/api/farms/{slug}/soil-preview", {
          params: { path: { slug } },
          body: body as SoilPreviewIn,
        }),
      ),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
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
