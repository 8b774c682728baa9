import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type BlockLimits = Schemas["BlockLimitsOut"];
export type Learned = Schemas["LearnedOut"];
export type HorizonFull = Schemas["HorizonFullOut"];
export type RefillSeenData = Schemas["RefillSeenOut"];
export type UseSeenData = Schemas["UseSeenOut"];
export type ApplicationSeenData = Schemas["ApplicationSeenOut"];
export type SiteRefill = Schemas["SiteRefillOut"];
export type Change = Schemas["ChangeOut"];
export type RefillIn = Schemas["RefillIn"];
export type Season = Schemas["SeasonOut"];
export type SeasonIn = Schemas["SeasonIn"];
export type EventIn = Schemas["EventIn"];

export function useLimits(slug: string, id: number, on: string) {
  return useQuery({
    queryKey: ["farm", slug, "limits", id, on],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/limits", {
          params: { path: { slug, block_id: id }, query: on ? { on } : {} },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

export function useLearned(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "learned", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/learned", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

/** The full point of each horizon as sensors have shown it. */
export function useFullPoints(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "full-points", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/full-points", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

/** Where the crop began to take less than it would. */
export function useRefillSeen(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "refill-seen", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/refill-point", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

export function useAdoptUse(slug: string, id: number) {
  return useChange(slug, (body: Schemas["AdoptUseIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/use", {
        params: { path: { slug, block_id: id } },
        body,
      }),
    ),
  );
}

/** What sensors found of the water that was applied. */
export function useApplicationSeen(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "application-seen", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/application", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

export function useAdoptApplication(slug: string, id: number) {
  return useChange(slug, (body: Schemas["AdoptApplicationIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/application", {
        params: { path: { slug, block_id: id } },
        body,
      }),
    ),
  );
}

export function useAdoptFull(slug: string, id: number) {
  return useChange(slug, (body: Schemas["AdoptIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/full-points", {
        params: { path: { slug, block_id: id } },
        body,
      }),
    ),
  );
}

export function useSeasons(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "seasons", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/seasons", {
          params: { path: { slug, block_id: id } },
        }),
      ),
  });
}

export function useSetRefill(slug: string, id: number) {
  return useChange(slug, (body: RefillIn) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/limits/refill", {
        params: { path: { slug, block_id: id } },
        body,
      }),
    ),
  );
}

export function usePutSoil(slug: string, id: number) {
  return useChange(
    slug,
    ({ soil, from, reason }: { soil: number; from: string | null; reason: string }) =>
      answered(
        client.POST("/api/farms/{slug}/soils/{soil_id}/blocks", {
          params: { path: { slug, soil_id: soil } },
          body: { block_ids: [id], from_on: from, reason },
        }),
      ),
  );
}

export function useUndo(slug: string, id: number) {
  return useChange(slug, (change: Change) =>
    answered(
      client.DELETE("/api/farms/{slug}/blocks/{block_id}/limits/{kind}/{change_id}", {
        params: { path: { slug, block_id: id, kind: change.kind, change_id: change.id } },
      }),
    ),
  );
}

export function useSaveSeason(slug: string, id: number, season: number | null) {
  return useChange(slug, (body: SeasonIn) =>
    season === null
      ? answered(
          client.POST("/api/farms/{slug}/blocks/{block_id}/seasons", {
            params: { path: { slug, block_id: id } },
            body,
          }),
        )
      : answered(
          client.PUT("/api/farms/{slug}/blocks/{block_id}/seasons/{season_id}", {
            params: { path: { slug, block_id: id, season_id: season } },
            body,
          }),
        ),
  );
}

export function useSee(slug: string, id: number, season: number) {
  return useChange(slug, (body: EventIn) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/seasons/{season_id}/events", {
        params: { path: { slug, block_id: id, season_id: season } },
        body,
      }),
    ),
  );
}

export function useUnsee(slug: string, id: number, season: number) {
  return useChange(slug, (event: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/blocks/{block_id}/seasons/{season_id}/events/{event_id}", {
        params: { path: { slug, block_id: id, season_id: season, event_id: event } },
      }),
    ),
  );
}

export type RootZone = Schemas["RootZoneOut"];

/** A block without a site beside similar ones that have some. */
export function useSimilarBlocks(slug: string, block: number) {
  return useQuery({
    queryKey: ["farm", slug, "similar-blocks", block],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/similar", {
          params: { path: { slug, block_id: block } },
        }),
      ),
  });
}

/** Estimates a block without a site from those of a similar one, or from none any more. */
export function useBorrow(slug: string, block: number) {
  return useChange(slug, (similar: number | null) =>
    answered(
      client.PUT("/api/farms/{slug}/blocks/{block_id}/similar", {
        params: { path: { slug, block_id: block } },
        body: { similar_block_id: similar },
      }),
    ),
  );
}
