import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Decision = Schemas["DecisionOut"];
export type DecisionIn = Schemas["DecisionIn"];
export type Why = NonNullable<DecisionIn["why"]>;

/** Decides on today's advice for a block. */
export function useDecide(slug: string) {
  return useChange(slug, ({ block, body }: { block: number; body: DecisionIn }) =>
    answered(
      client.POST("/api/farms/{slug}/blocks/{block_id}/decisions", {
        params: { path: { slug, block_id: block } },
        body,
      }),
    ),
  );
}

/** Takes the advice of several blocks as it stands. */
export function useAcceptMany(slug: string) {
  return useChange(slug, (block_ids: number[]) =>
    answered(
      client.POST("/api/farms/{slug}/decisions/accept", {
        params: { path: { slug } },
        body: { block_ids },
      }),
    ),
  );
}

export function useTakeBack(slug: string) {
  return useChange(slug, (decision: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/decisions/{decision_id}", {
        params: { path: { slug, decision_id: decision } },
      }),
    ),
  );
}
