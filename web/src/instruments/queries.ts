import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Health = Schemas["HealthOut"];
export type Detail = Schemas["InstrumentDetail"];
export type LogEvent = Schemas["LogEntryOut"];
export type LogKind = Schemas["LogKind"];
export type Chart = Schemas["ChartOut"];
export type ChartLine = Schemas["LineOut"];
export type Rule = Schemas["RuleOut"];
export type Review = Schemas["ReviewOut"];

export function useInstruments(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "instruments"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/instruments", { params: { path: { slug } } })),
  });
}

export function useInstrument(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "instrument", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/instruments/{instrument_id}", {
          params: { path: { slug, instrument_id: id } },
        }),
      ),
  });
}

export function useKinds() {
  return useQuery({
    queryKey: ["instrument-kinds"],
    queryFn: () => answered(client.GET("/api/instrument-kinds")),
    staleTime: Infinity,
  });
}

export function useRules() {
  return useQuery({
    queryKey: ["quality-rules"],
    queryFn: () => answered(client.GET("/api/quality-rules")),
    staleTime: Infinity,
  });
}

export interface Stretch {
  first: string;
  last: string;
}

export function useChart(slug: string, id: number, stretch: Stretch, calibrated: boolean) {
  return useQuery({
    queryKey: ["farm", slug, "chart", id, stretch, calibrated],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/instruments/{instrument_id}/chart", {
          params: { path: { slug, instrument_id: id }, query: { ...stretch, calibrated } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

export function useAddEvent(slug: string, id: number) {
  return useChange(slug, (body: Schemas["LogEntryIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/instruments/{instrument_id}/events", {
        params: { path: { slug, instrument_id: id } },
        body,
      }),
    ),
  );
}

export function useRemoveEvent(slug: string, id: number) {
  return useChange(slug, (event: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/instruments/{instrument_id}/events/{event_id}", {
        params: { path: { slug, instrument_id: id, event_id: event } },
      }),
    ),
  );
}

export function useChangeInstrument(slug: string, id: number) {
  return useChange(slug, (body: Schemas["InstrumentChange"]) =>
    answered(
      client.PATCH("/api/farms/{slug}/instruments/{instrument_id}", {
        params: { path: { slug, instrument_id: id } },
        body,
      }),
    ),
  );
}

export function useReviews(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "reviews", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/instruments/{instrument_id}/reviews", {
          params: { path: { slug, instrument_id: id } },
        }),
      ),
  });
}

export function useSaveReview(slug: string, id: number) {
  return useChange(slug, (body: Schemas["ReviewIn"]) =>
    answered(
      client.POST("/api/farms/{slug}/instruments/{instrument_id}/reviews", {
        params: { path: { slug, instrument_id: id } },
        body,
      }),
    ),
  );
}

export function useUndoReview(slug: string) {
  return useChange(slug, (review: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/reviews/{review_id}", {
        params: { path: { slug, review_id: review } },
      }),
    ),
  );
}

export function useAddPhoto(slug: string, id: number) {
  return useChange(slug, (file: File) => {
    const form = new FormData();
    form.set("file", file);
    return answered(
      client.POST("/api/farms/{slug}/instruments/{instrument_id}/photos", {
        params: { path: { slug, instrument_id: id } },
        body: { file: file.name, note: "", key: null },
        bodySerializer: () => form,
      }),
    );
  });
}

export function useRemovePhoto(slug: string) {
  return useChange(slug, (photo: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/photos/{photo_id}", {
        params: { path: { slug, photo_id: photo } },
      }),
    ),
  );
}

export function useUndoCurve(slug: string) {
  return useChange(slug, (curve: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/curves/{curve_id}", {
        params: { path: { slug, curve_id: curve } },
      }),
    ),
  );
}
