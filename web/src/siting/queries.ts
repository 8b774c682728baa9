import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";
import { useChange } from "../api/useChange";

export type Siting = Schemas["SitingOut"];
export type SitingLayer = Schemas["SitingLayerOut"];
export type SitingSettings = Schemas["SitingSettingsIn"];
export type RasterPlace = Schemas["RasterOut"];
export type RasterData = Schemas["RasterData"];
export type Spot = Schemas["SitingSpotOut"];
export type ChosenSpot = Schemas["ProbeSpotOut"];
export type Zone = Schemas["SitingZoneOut"];
export type LayerFile = Schemas["LayerFileOut"];
export type LayerFileDetail = Schemas["LayerFileDetail"];
export type LayerReading = Schemas["LayerReading"];
export type LayerLook = Schemas["LayerLook"];
export type Purpose = SitingSettings["purpose"];
export type ExclusionKind = NonNullable<Spot["kept_off"]>;
export type Cover = Schemas["CoverOut"];
export type SpotSheet = Schemas["SpotSheet"];
export type RainYear = Schemas["RainYearOut"];
export type SpotRecord = Schemas["SpotRecord"];
export type SpotSoil = Schemas["SpotSoil"];
export type KindChoice = Schemas["KindChoiceOut"];
export type LayerPoints = Schemas["LayerPointsOut"];
export type LayerChange = Schemas["LayerChange"];

// The client widens pairs of numbers to lists.
const sitingOf = async (answer: Promise<unknown>) => (await answer) as Siting;

export const isAtWork = (file: LayerFile) => file.state === "looking" || file.state === "storing";

export function useSiting(slug: string, block: number) {
  return useQuery({
    queryKey: ["farm", slug, "siting", block],
    queryFn: () =>
      sitingOf(
        answered(
          client.GET("/api/farms/{slug}/blocks/{block_id}/siting", {
            params: { path: { slug, block_id: block } },
          }),
        ),
      ),
  });
}

/** What is known of a position; asked for once the flag stands still. */
export function useSpot(slug: string, block: number, at: [number, number] | null, asked: object) {
  return useQuery({
    queryKey: ["farm", slug, "siting-spot", block, at, asked],
    enabled: at !== null,
    placeholderData: (last: Spot | undefined) => last,
    queryFn: async () =>
      (await answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/siting/spot", {
          params: {
            path: { slug, block_id: block },
            query: { longitude: at?.[0] ?? 0, latitude: at?.[1] ?? 0 },
          },
        }),
      )) as unknown as Spot,
  });
}

/** Changes how spots are looked for; the answer is the page anew. */
export function useChangeSiting(slug: string, block: number) {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: `siting-${block}` },
    mutationFn: (body: SitingSettings) =>
      sitingOf(
        answered(
          client.PUT("/api/farms/{slug}/blocks/{block_id}/siting", {
            params: { path: { slug, block_id: block } },
            body,
          }),
        ),
      ),
    onSuccess: (siting) => queries.setQueryData(["farm", slug, "siting", block], siting),
  });
}

export function useChangeLayer(slug: string, block: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ layer, body }: { layer: number; body: LayerChange }) =>
      answered(
        client.PUT("/api/farms/{slug}/siting-layers/{layer_id}", {
          params: { path: { slug, layer_id: layer } },
          body,
        }),
      ),
    onSuccess: (siting) => {
      queries.setQueryData(["farm", slug, "siting", block], siting);
      // What was kept of its points is of the rules before.
      queries.removeQueries({ queryKey: ["farm", slug, "layer-points"] });
    },
  });
}

/** A layer's points under rules that are tried, as JSON; as they are stored with none. */
export function useLayerPoints(slug: string, layer: number, asked: string | null) {
  return useQuery({
    queryKey: ["farm", slug, "layer-points", layer, asked],
    placeholderData: (last: LayerPoints | undefined) => last,
    gcTime: 60_000,
    queryFn: async () =>
      (await answered(
        client.POST("/api/farms/{slug}/siting-layers/{layer_id}/points", {
          params: { path: { slug, layer_id: layer } },
          body: JSON.parse(asked ?? "{}") as Schemas["LayerTrial"],
        }),
      )) as unknown as LayerPoints,
  });
}

export function useDeleteLayer(slug: string) {
  return useChange(slug, (layer: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/siting-layers/{layer_id}", {
        params: { path: { slug, layer_id: layer } },
      }),
    ),
  );
}

export function useChooseSpot(slug: string, block: number) {
  return useChange(slug, (body: Schemas["ProbeSpotIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/siting/spots", {
        params: { path: { slug, block_id: block } },
        body,
      }),
    ),
  );
}

export function useRemoveSpot(slug: string) {
  return useChange(slug, (spot: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/probe-spots/{spot_id}", {
        params: { path: { slug, spot_id: spot } },
      }),
    ),
  );
}

/** What to take along to a chosen spot, and how a kind of instrument is installed there. */
export function useSpotSheet(slug: string, spot: number, kind: SpotSheet["kind"]) {
  return useQuery({
    queryKey: ["farm", slug, "spot-sheet", spot, kind],
    placeholderData: (last: SpotSheet | undefined) => last,
    queryFn: async () =>
      (await answered(
        client.GET("/api/farms/{slug}/probe-spots/{spot_id}", {
          params: { path: { slug, spot_id: spot }, query: { kind } },
        }),
      )) as unknown as SpotSheet,
  });
}

export function useInstall(slug: string, spot: number) {
  return useChange(slug, (body: Schemas["SpotInstrumentIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/probe-spots/{spot_id}/instrument", {
        params: { path: { slug, spot_id: spot } },
        body,
      }),
    ),
  );
}

/** Which kind of instrument suits a block; ``asked`` is the question as JSON. */
export function useKindChoice(slug: string, block: number, asked: string) {
  return useQuery({
    queryKey: ["farm", slug, "kind-choice", block, asked],
    placeholderData: (last: Schemas["InstrumentChoiceOut"] | undefined) => last,
    queryFn: () =>
      answered(
        client.POST("/api/farms/{slug}/blocks/{block_id}/instrument-choice", {
          params: { path: { slug, block_id: block } },
          body: JSON.parse(asked) as Schemas["InstrumentChoiceIn"],
        }),
      ),
  });
}

/** Kinds of block and the sites that stand for them. */
export function useCover(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "farm-siting"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/siting", { params: { path: { slug } } })),
  });
}

export function useLayerFiles(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "layer-files"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/layer-files", { params: { path: { slug } } })),
    refetchInterval: (q) => (q.state.data?.some(isAtWork) ? 1000 : false),
  });
}

/** A layer file, asked for again while a worker is at it. */
export function useLayerFile(slug: string, id: number) {
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["farm", slug, "layer-file", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/layer-files/{file_id}", {
          params: { path: { slug, file_id: id } },
        }),
      ),
    refetchInterval: (q) => (q.state.data && isAtWork(q.state.data.summary) ? 700 : false),
  });
  const stored = found.data?.summary.state === "stored";
  useEffect(() => {
    if (stored) void queries.invalidateQueries({ queryKey: ["farm", slug, "siting"] });
  }, [stored, queries, slug]);
  return found;
}

export function useUploadLayer(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return answered(
        client.POST("/api/farms/{slug}/layer-files", {
          params: { path: { slug } },
          body: { file: file.name },
          bodySerializer: () => form,
        }),
      );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ["farm", slug, "layer-files"] }),
  });
}

/** Steps of a layer file; the page then asks how far it is. */
export function useLayerFileStep(slug: string, id: number) {
  const queries = useQueryClient();
  const params = { path: { slug, file_id: id } };
  const settle = (summary: LayerFile) =>
    queries.setQueryData<LayerFileDetail>(["farm", slug, "layer-file", id], (old) =>
      old ? { ...old, summary } : old,
    );
  const read = useMutation({
    mutationFn: (body: LayerReading) =>
      answered(client.PUT("/api/farms/{slug}/layer-files/{file_id}/reading", { params, body })),
    onSuccess: settle,
  });
  const store = useMutation({
    mutationFn: () =>
      answered(client.POST("/api/farms/{slug}/layer-files/{file_id}/store", { params })),
    onSuccess: settle,
  });
  const remove = useMutation({
    mutationFn: () =>
      answered(client.DELETE("/api/farms/{slug}/layer-files/{file_id}", { params })),
    onSuccess: () => {
      queries.removeQueries({ queryKey: ["farm", slug, "layer-file", id] });
      return refreshFarm(queries, slug);
    },
  });
  return { read, store, remove };
}

/** A spot's core, its probe's settling, checks by hand, decisions. */
export function useSpotRecord(slug: string, spot: number) {
  return useQuery({
    queryKey: ["farm", slug, "spot-record", spot],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/probe-spots/{spot_id}/record", {
          params: { path: { slug, spot_id: spot } },
        }),
      ),
  });
}

export function useRecordCore(slug: string, spot: number) {
  return useChange(slug, (body: Schemas["SpotCoreIn"]) =>
    answered(
      client.PUT("/api/farms/{slug}/probe-spots/{spot_id}/core", {
        params: { path: { slug, spot_id: spot } },
        body,
      }),
    ),
  );
}

export function useAddCheck(slug: string, spot: number) {
  return useChange(slug, (body: Schemas["SpotCheckIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/probe-spots/{spot_id}/checks", {
        params: { path: { slug, spot_id: spot } },
        body,
      }),
    ),
  );
}

export function useRemoveCheck(slug: string) {
  return useChange(slug, (check: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/spot-checks/{check_id}", {
        params: { path: { slug, check_id: check } },
      }),
    ),
  );
}

export function useDecide(slug: string, spot: number) {
  return useChange(slug, (body: Schemas["SpotDecisionIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/probe-spots/{spot_id}/decisions", {
        params: { path: { slug, spot_id: spot } },
        body,
      }),
    ),
  );
}

export function useRainYears(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "rain-years"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/rain-years", { params: { path: { slug } } })),
  });
}

export function usePutRain(slug: string) {
  return useChange(slug, (years: Schemas["RainYearIn"][]) =>
    answered(
      client.PUT("/api/farms/{slug}/rain-years", { params: { path: { slug } }, body: { years } }),
    ),
  );
}

/** Years of a table, looked at; they are saved with the others. */
export function useImportRain(slug: string) {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append("file", file);
      form.append("dry_run", "true");
      return answered(
        client.POST("/api/farms/{slug}/rain-years/file", {
          params: { path: { slug } },
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      );
    },
  });
}
