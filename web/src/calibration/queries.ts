import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Sample = Schemas["SampleIn"];
export type Worksheet = Schemas["WorksheetOut"];
export type WorksheetIn = Schemas["WorksheetIn"];
export type Fit = Schemas["FitOut"];
export type CurveKind = Schemas["CurveKind"];

export function useWorksheet(slug: string, instrument: number, body: WorksheetIn | null) {
  return useQuery({
    queryKey: ["farm", slug, "worksheet", instrument, body],
    queryFn: () =>
      answered(
        client.POST("/api/farms/{slug}/instruments/{instrument_id}/worksheet", {
          params: { path: { slug, instrument_id: instrument } },
          body: body as WorksheetIn,
        }),
      ),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 10_000,
  });
}

export function useReadSheet(slug: string, instrument: number) {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return answered(
        client.POST("/api/farms/{slug}/instruments/{instrument_id}/worksheet/file", {
          params: { path: { slug, instrument_id: instrument } },
          body: { file: file.name },
          bodySerializer: () => form,
        }),
      );
    },
  });
}

export function useApplyCurve(slug: string, instrument: number) {
  return useChange(slug, (body: Schemas["ApplyIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/instruments/{instrument_id}/curves", {
        params: { path: { slug, instrument_id: instrument } },
        body,
      }),
    ),
  );
}
