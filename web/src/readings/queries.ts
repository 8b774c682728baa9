import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type Instrument = Schemas["InstrumentOut"];
export type ReadingUnit = Schemas["ReadingUnit"];

export function useMakeInstrument(slug: string, blockId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["InstrumentIn"]) =>
      answered(
        client.POST("/api/farms/{slug}/blocks/{block_id}/instruments", {
          params: { path: { slug, block_id: blockId } },
          body,
        }),
      ),
    onSuccess: () => refreshFarm(queries, slug),
  });
}

export function useLast(slug: string, instrumentId: number) {
  return useQuery({
    queryKey: ["farm", slug, "last", instrumentId],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/instruments/{instrument_id}/last", {
          params: { path: { slug, instrument_id: instrumentId } },
        }),
      ),
  });
}

export function useRecord(slug: string, instrumentId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["HandIn"]) =>
      answered(
        client.POST("/api/farms/{slug}/instruments/{instrument_id}/readings", {
          params: { path: { slug, instrument_id: instrumentId } },
          body,
        }),
      ),
    onSuccess: () => refreshFarm(queries, slug),
  });
}

/** What a hand may find in each layer, and what it means. */
export function useFeel(slug: string, instrumentId: number) {
  return useQuery({
    queryKey: ["farm", slug, "feel", instrumentId],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/instruments/{instrument_id}/feel", {
          params: { path: { slug, instrument_id: instrumentId } },
        }),
      ),
  });
}
