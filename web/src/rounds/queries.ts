import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Round = Schemas["RoundOut"];
export type Stop = Schemas["StopOut"];
export type RoundChannel = Schemas["RoundChannel"];
export type VisitIn = Schemas["VisitIn"];
export type VisitOut = Schemas["VisitOut"];

/** All rounds with what is needed on foot; without signal the last answer stands in. */
export function useRounds(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "rounds"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/rounds", { params: { path: { slug } } })),
    networkMode: "always",
  });
}

export function useSaveRound(slug: string, id: number | null) {
  return useChange(slug, (body: Schemas["RoundIn"]) =>
    answered(
      id === null
        ? client.POST("/api/farms/{slug}/rounds", { params: { path: { slug } }, body })
        : client.PUT("/api/farms/{slug}/rounds/{round_id}", {
            params: { path: { slug, round_id: id } },
            body,
          }),
    ),
  );
}

export function useDeleteRound(slug: string) {
  return useChange(slug, (id: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/rounds/{round_id}", {
        params: { path: { slug, round_id: id } },
      }),
    ),
  );
}

/** A picture from the field; sent again under the same key it is kept once. */
export function sendPhoto(
  slug: string,
  instrument: number,
  key: string,
  photo: Blob,
): Promise<unknown> {
  const form = new FormData();
  form.set("file", photo, "field.jpg");
  form.set("key", key);
  return answered(
    client.POST("/api/farms/{slug}/instruments/{instrument_id}/photos", {
      params: { path: { slug, instrument_id: instrument } },
      body: { file: "field.jpg", note: "", key },
      bodySerializer: () => form,
    }),
  );
}

export function sendVisits(slug: string, visits: VisitIn[]): Promise<VisitOut[]> {
  return answered(
    client.POST("/api/farms/{slug}/visits", {
      params: { path: { slug } },
      body: { visits },
    }),
  );
}
