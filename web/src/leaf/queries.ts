import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type LeafPoint = Schemas["LeafPoint"];
export type LeafSaid = Schemas["LeafSaidOut"];
export type LeafData = Schemas["LeafOut"];
export type Steering = Schemas["SteeringOut"];
export type SteeringIn = Schemas["SteeringIn"];
export type StemRound = Schemas["StemRoundOut"];
export type StemRoundIn = Schemas["StemRoundIn"];
export type NextRound = Schemas["NextRoundOut"];

const at = (slug: string, id: number) => ({ params: { path: { slug, block_id: id } } });
const one = (slug: string, id: number, round: number) => ({
  params: { path: { slug, block_id: id, round_id: round } },
});

export function useLeaf(slug: string, id: number, on?: string | null) {
  return useQuery({
    queryKey: ["farm", slug, "block", id, "leaf", on ?? ""],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/blocks/{block_id}/leaf", {
          params: { path: { slug, block_id: id }, query: on ? { on } : {} },
        }),
      ),
  });
}

function useChange<Of, Out>(slug: string, change: (of: Of) => Promise<Out>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: () => refreshFarm(queries, slug) });
}

export function useSaveSteering(slug: string, id: number) {
  return useChange(slug, (body: SteeringIn) =>
    answered(client.PUT("/api/farms/{slug}/blocks/{block_id}/leaf", { ...at(slug, id), body })),
  );
}

export function useRemoveSteering(slug: string, id: number) {
  return useChange(slug, () =>
    answered(client.DELETE("/api/farms/{slug}/blocks/{block_id}/leaf", at(slug, id))),
  );
}

export async function sendRound(slug: string, id: number, body: StemRoundIn): Promise<StemRound> {
  return answered(
    client.POST("/api/farms/{slug}/blocks/{block_id}/leaf/rounds", { ...at(slug, id), body }),
  );
}

/** Asked also without signal: the round is kept on the phone then. */
export function useAddRound(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: StemRoundIn) => sendRound(slug, id, body),
    onSuccess: () => refreshFarm(queries, slug),
    networkMode: "always",
  });
}

export function useKeepRound(slug: string, id: number) {
  return useChange(slug, ({ round, kept }: { round: number; kept: boolean }) =>
    answered(
      client.PUT("/api/farms/{slug}/blocks/{block_id}/leaf/rounds/{round_id}", {
        ...one(slug, id, round),
        body: { kept },
      }),
    ),
  );
}

export function useRemoveRound(slug: string, id: number) {
  return useChange(slug, (round: number) =>
    answered(
      client.DELETE(
        "/api/farms/{slug}/blocks/{block_id}/leaf/rounds/{round_id}",
        one(slug, id, round),
      ),
    ),
  );
}
