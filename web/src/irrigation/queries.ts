import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type DesignIn = Schemas["DesignIn"];
export type DesignOut = Schemas["DesignOut"];
export type CatchIn = Schemas["CatchIn"];
export type CatchOut = Schemas["CatchOut"];

/** What a system's figures come to, and whether the soil takes the water in. */
export function useDesign(slug: string, body: DesignIn | null) {
  return useQuery({
    queryKey: ["farm", slug, "design", body],
    queryFn: () =>
      answered(
        client.POST("/api/farms/{slug}/irrigation-design", {
          params: { path: { slug } },
          body: body as DesignIn,
        }),
      ),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 10_000,
  });
}

export function useCatchCans(slug: string, block: number) {
  return useQuery({
    queryKey: ["farm", slug, "catch-cans", block],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/catch-cans", {
          params: { path: { slug, block_id: block } },
        }),
      ),
  });
}

export function useCatchPreview(slug: string, block: number, body: CatchIn | null) {
  return useQuery({
    queryKey: ["farm", slug, "catch-preview", block, body],
    queryFn: () =>
      answered(
        client.POST("/api/farms/{slug}/blocks/{block_id}/catch-cans/preview", {
          params: { path: { slug, block_id: block } },
          body: body as CatchIn,
        }),
      ),
    enabled: body !== null,
    gcTime: 10_000,
  });
}

export function useSaveCatch(slug: string, block: number) {
  return useChange(slug, (body: CatchIn) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/catch-cans", {
        params: { path: { slug, block_id: block } },
        body,
      }),
    ),
  );
}

export function useDeleteCatch(slug: string, block: number) {
  return useChange(slug, (test: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/blocks/{block_id}/catch-cans/{test_id}", {
        params: { path: { slug, block_id: block, test_id: test } },
      }),
    ),
  );
}
