import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type CropRow = Schemas["CropRow"];
export type Crop = Schemas["CropOut"];
export type CropIn = Schemas["CropIn"];

export function useCrops(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "crops"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/crops", { params: { path: { slug } } })),
    staleTime: 60_000,
  });
}

export function useCrop(slug: string, key: string) {
  return useQuery({
    queryKey: ["farm", slug, "crop", key],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/crops/{key}", { params: { path: { slug, key } } })),
  });
}

export function useSaveCrop(slug: string, key: string | null) {
  return useChange(slug, (body: CropIn) =>
    key === null
      ? answered(client.POST("/api/farms/{slug}/crops", { params: { path: { slug } }, body }))
      : answered(
          client.PUT("/api/farms/{slug}/crops/{key}", {
            params: { path: { slug, key } },
            body,
          }),
        ),
  );
}

export function useDeleteCrop(slug: string) {
  return useChange(slug, (key: string) =>
    answered(client.DELETE("/api/farms/{slug}/crops/{key}", { params: { path: { slug, key } } })),
  );
}
