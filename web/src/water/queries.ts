import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type WaterData = Schemas["WaterOut"];
export type WaterBlock = Schemas["WaterBlock"];
export type SetOut = Schemas["SetOut"];
export type SetIn = Schemas["SetIn"];
export type SetsIn = Schemas["SetsIn"];
export type HoldOut = Schemas["HoldOut"];
export type HoldIn = Schemas["HoldIn"];

/** What of the log is looked at: days back, part of a block's name, irrigations that are over. */
export interface LogAsked {
  days: number;
  find: string;
  given: number;
}

export function useWater(slug: string, asked: LogAsked) {
  return useQuery({
    queryKey: ["farm", slug, "water", asked],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/water", { params: { path: { slug }, query: asked } })),
    // The list stays while another stretch of it comes.
    placeholderData: keepPreviousData,
  });
}

/** The blocks on which water can be logged. */
export function useWaterBlocks(slug: string, wanted: boolean) {
  return useQuery({
    queryKey: ["farm", slug, "water-blocks"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/water/blocks", { params: { path: { slug } } })),
    enabled: wanted,
  });
}

/** Plans, begins or logs the same set on one block or several. */
export function useGiveWater(slug: string) {
  return useChange(slug, (body: SetsIn) =>
    answered(client.POST("/api/farms/{slug}/water", { params: { path: { slug } }, body })),
  );
}

export function useMendSet(slug: string) {
  return useChange(slug, ({ set, body }: { set: number; body: SetIn }) =>
    answered(
      client.PUT("/api/farms/{slug}/water/{set_id}", {
        params: { path: { slug, set_id: set } },
        body,
      }),
    ),
  );
}

export function useBeginSet(slug: string) {
  return useChange(slug, ({ set, meter }: { set: number; meter: number | null }) =>
    answered(
      client.POST("/api/farms/{slug}/water/{set_id}/begin", {
        params: { path: { slug, set_id: set } },
        body: { at: null, meter_m3: meter },
      }),
    ),
  );
}

export function useCancelSet(slug: string) {
  return useChange(slug, (set: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/water/{set_id}", {
        params: { path: { slug, set_id: set } },
      }),
    ),
  );
}

/** Records where a machine is on its way over the block. */
export function useAddPosition(slug: string) {
  return useChange(slug, ({ set, body }: { set: number; body: Schemas["SeenAt"] }) =>
    answered(
      client.POST("/api/farms/{slug}/water/{set_id}/positions", {
        params: { path: { slug, set_id: set } },
        body,
      }),
    ),
  );
}

/** Takes back the position recorded last. */
export function useRemovePosition(slug: string) {
  return useChange(slug, (set: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/water/{set_id}/positions", {
        params: { path: { slug, set_id: set } },
      }),
    ),
  );
}

export function useHoldBlocks(slug: string) {
  return useChange(slug, (body: HoldIn) =>
    answered(client.POST("/api/farms/{slug}/holds", { params: { path: { slug } }, body })),
  );
}

export function useLiftHold(slug: string) {
  return useChange(slug, (hold: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/holds/{hold_id}", {
        params: { path: { slug, hold_id: hold } },
      }),
    ),
  );
}

export function useSetRain(slug: string) {
  return useChange(slug, ({ on, mm }: { on: string; mm: number | null }) =>
    answered(
      client.PUT("/api/farms/{slug}/rain/{on}", {
        params: { path: { slug, on } },
        body: { rain_mm: mm },
      }),
    ),
  );
}
