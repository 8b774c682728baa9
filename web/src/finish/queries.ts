import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Finish = Schemas["FinishOut"];
export type Outcome = Schemas["FinishOutcome"];
export type ReserveMethod = Finish["method"];

export function useFinish(slug: string, id: number, method: ReserveMethod, chance: number) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "finish", method, chance],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/finish", {
          params: { path: { slug, block_id: id }, query: { method, chance } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}
