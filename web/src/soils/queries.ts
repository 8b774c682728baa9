import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";
import { useChange } from "../api/useChange";

export type HorizonIn = Schemas["HorizonIn"];
export type HorizonOut = Schemas["HorizonOut"];
export type SoilRow = Schemas["SoilRow"];
export type SeenOnBlock = Schemas["SeenOnBlockOut"];
export type SoilIn = Schemas["SoilIn"];
export type SoilOut = Schemas["SoilOut"];
export type SoilPreview = Schemas["SoilPreviewOut"];
export type SoilPreviewIn = Schemas["SoilPreviewIn"];
export type Textures = Schemas["TexturesOut"];
export type SurveyRead = Schemas["SoilSurveyRead"];
export type Laboratory = Schemas["LaboratoryOut"];

export function useSoils(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "soils"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/soils", { params: { path: { slug } } })),
  });
}

export function useSoil(slug: string, id: number | null) {
  return useQuery({
    queryKey: ["farm", slug, "soil", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/soils/{soil_id}", {
          params: { path: { slug, soil_id: id ?? 0 } },
        }),
      ),
    enabled: id !== null,
    gcTime: 0,
  });
}

/** The full points that sensors have shown on the blocks of a soil. */
export function useSeenOnSoil(slug: string, id: number | null) {
  return useQuery({
    queryKey: ["farm", slug, "full-points-on-soil", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/soils/{soil_id}/full-points", {
          params: { path: { slug, soil_id: id ?? 0 } },
        }),
      ),
    enabled: id !== null,
  });
}

export function useTextures() {
  return useQuery({
    queryKey: ["textures"],
    queryFn: () => answered(client.GET("/api/textures")),
    staleTime: Infinity,
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

export function useSaveSoil(slug: string, id: number | null) {
  return useChange(slug, (body: SoilIn) =>
    id === null
      ? answered(client.POST("/api/farms/{slug}/soils", { params: { path: { slug } }, body }))
      : answered(
          client.PUT("/api/farms/{slug}/soils/{soil_id}", {
            params: { path: { slug, soil_id: id } },
            body,
          }),
        ),
  );
}

export function useDeleteSoil(slug: string) {
  return useChange(slug, (id: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/soils/{soil_id}", {
        params: { path: { slug, soil_id: id } },
      }),
    ),
  );
}

export function useLaboratory(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ file, dryRun }: { file: File; dryRun: boolean }) => {
      const form = new FormData();
      form.append("file", file);
      form.append("dry_run", String(dryRun));
      return answered(
        client.POST("/api/farms/{slug}/laboratory", {
          params: { path: { slug } },
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      );
    },
    onSuccess: (_, { dryRun }) => (dryRun ? undefined : refreshFarm(queries, slug)),
  });
}

export interface SurveyChoices {
  file: File;
  projection: string;
  latitudeFirst: boolean;
  nameProperty: string;
  depthMm: number;
  dryRun: boolean;
}

export function useImportSurvey(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (c: SurveyChoices) => {
      const form = new FormData();
      form.append("file", c.file);
      form.append("projection", c.projection);
      form.append("latitude_first", String(c.latitudeFirst));
      form.append("name_property", c.nameProperty);
      form.append("depth_mm", String(c.depthMm));
      form.append("dry_run", String(c.dryRun));
      return answered(
        client.POST("/api/farms/{slug}/soil-surveys", {
          params: { path: { slug } },
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      );
    },
    onSuccess: (_, { dryRun }) => (dryRun ? undefined : refreshFarm(queries, slug)),
  });
}

export function useSurveys(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "soil-surveys"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/soil-surveys", { params: { path: { slug } } })),
  });
}

export function useDeleteSurvey(slug: string) {
  return useChange(slug, (survey: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/soil-surveys/{survey_id}", {
        params: { path: { slug, survey_id: survey } },
      }),
    ),
  );
}
