import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type BoardData = Schemas["BoardOut"];
export type BoardRow = Schemas["BoardRow"];
/** What a furrow is drawn from. */
export type Furrow = Pick<BoardRow, "past" | "ahead" | "sets" | "answer">;
export type StatedEt = Schemas["StatedEtOut"];

export const boardKey = (slug: string) => ["farm", slug, "board"];

export function useBoard(slug: string) {
  return useQuery({
    queryKey: boardKey(slug),
    queryFn: () => answered(client.GET("/api/farms/{slug}/board", { params: { path: { slug } } })),
    refetchInterval: 5 * 60_000,
  });
}

export function useStateEt(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["ExpectedEtIn"]) =>
      answered(client.PUT("/api/farms/{slug}/stated-et", { params: { path: { slug } }, body })),
    // Every answer of the farm rests on it.
    onSuccess: () => refreshFarm(queries, slug),
  });
}
