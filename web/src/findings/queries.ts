import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";
import { useChange } from "../api/useChange";

export type Finding = Schemas["FindingOut"];
export type Evidence = Schemas["FindingEvidenceOut"];
export type Mark = Schemas["FindingMark"];
export type Decision = Schemas["FindingDecisionIn"];

/** Findings of a farm, or of one of its blocks; with those decided and past, or without. */
export function useFindings(slug: string, block: number | null, past = false) {
  return useQuery({
    queryKey: ["farm", slug, "findings", block, past],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/findings", {
          params: { path: { slug }, query: { block, past } },
        }),
      ),
  });
}

/** What is said of each block's findings on the board. */
export function useFindingMarks(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "finding-marks"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/finding-marks", { params: { path: { slug } } })),
    // A block that was opened meanwhile was looked at anew.
    refetchOnMount: "always",
    refetchInterval: 5 * 60_000,
  });
}

/** Decide about a finding, with a picture where one was taken. */
export function useDecideFinding(slug: string) {
  return useChange(
    slug,
    async ({ id, body, photo }: { id: number; body: Decision; photo: File | null }) => {
      const made = await answered(
        client.POST("/api/farms/{slug}/findings/{finding_id}/decisions", {
          params: { path: { slug, finding_id: id } },
          body,
        }),
      );
      const decision = made.decisions.at(-1);
      if (photo && decision) await sendPhoto(slug, decision.id, photo);
      return made;
    },
  );
}

function sendPhoto(slug: string, decision: number, photo: File) {
  const form = new FormData();
  form.set("file", photo);
  return answered(
    client.POST("/api/farms/{slug}/finding-decisions/{decision_id}/photo", {
      params: { path: { slug, decision_id: decision } },
      body: { file: photo.name },
      bodySerializer: () => form,
    }),
  );
}

export function useUndoFindingDecision(slug: string) {
  return useChange(slug, (decision: number) =>
    answered(
      client.DELETE("/api/farms/{slug}/finding-decisions/{decision_id}", {
        params: { path: { slug, decision_id: decision } },
      }),
    ),
  );
}
