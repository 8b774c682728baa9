import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";
import { useChange } from "../api/useChange";
import type { Geometry, LonLat } from "./planScale";

export type FarmMap = Schemas["MapOut"];
export type MapBlock = Schemas["MapBlock"];
export type Feature = Schemas["FeatureOut"];
export type FeatureKind = Feature["kind"];
export type Imported = Schemas["ImportOut"];

export interface ImportChoices {
  file: File;
  projection: string;
  latitudeFirst: boolean;
  nameProperty: string;
  likeBlock: string;
  takeArea: boolean;
  dryRun: boolean;
}

const plain = (geometry: Geometry) => geometry as unknown as Record<string, never>;

export function useFarmMap(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "map"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/map", { params: { path: { slug } } })),
  });
}

/** Area of what is being drawn, and what stands against it. */
export function useMeasure(slug: string, geometry: Geometry | null, block: number | null) {
  return useQuery({
    queryKey: ["farm", slug, "measure", geometry, block],
    queryFn: () =>
      answered(
        client.POST("/api/farms/{slug}/map/measure", {
          params: { path: { slug } },
          body: { geometry: plain(geometry as Geometry), block_id: block },
        }),
      ),
    enabled: geometry !== null,
    staleTime: Infinity,
    gcTime: 10_000,
  });
}

export function useSetOutline(slug: string) {
  return useChange(
    slug,
    ({
      block,
      geometry,
      takeArea,
    }: {
      block: number;
      geometry: Geometry | null;
      takeArea: boolean;
    }) =>
      answered(
        client.PUT("/api/farms/{slug}/blocks/{block_id}/outline", {
          params: { path: { slug, block_id: block } },
          body: { geometry: geometry && plain(geometry), take_area: takeArea },
        }),
      ),
  );
}

export function useSplit(slug: string) {
  return useChange(slug, ({ block, line, name }: { block: number; line: LonLat[]; name: string }) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/split", {
        params: { path: { slug, block_id: block } },
        body: { line, name },
      }),
    ),
  );
}

export function useAddFeature(slug: string) {
  return useChange(
    slug,
    ({ kind, name, geometry }: { kind: FeatureKind; name: string; geometry: Geometry }) =>
      answered(
        client.POST("/api/farms/{slug}/map/features", {
          params: { path: { slug } },
          body: { kind, name, geometry: plain(geometry) },
        }),
      ),
  );
}

export function useDeleteFeature(slug: string) {
  return useChange(slug, (id: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/map/features/{feature_id}", {
        params: { path: { slug, feature_id: id } },
      }),
    ),
  );
}

export function useImportMap(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (c: ImportChoices) => {
      const form = new FormData();
      form.append("file", c.file);
      form.append("projection", c.projection);
      form.append("latitude_first", String(c.latitudeFirst));
      form.append("name_property", c.nameProperty);
      if (c.likeBlock) form.append("like_block_id", c.likeBlock);
      form.append("take_area", String(c.takeArea));
      form.append("dry_run", String(c.dryRun));
      return answered(
        client.POST("/api/farms/{slug}/map/import", {
          params: { path: { slug } },
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      );
    },
    onSuccess: (_, { dryRun }) => (dryRun ? undefined : refreshFarm(queries, slug)),
  });
}
