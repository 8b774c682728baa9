import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type ChecklistStep = Schemas["SetupStepOut"];
export type Step = ChecklistStep["step"];

const keyOf = (slug: string) => ["farm", slug, "checklist"];

export function useChecklist(slug: string, asked: boolean) {
  return useQuery({
    queryKey: keyOf(slug),
    enabled: asked,
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/checklist", { params: { path: { slug } } })),
  });
}

export function useSkipStep(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ step, skipped }: { step: Step; skipped: boolean }) =>
      answered(
        client.PUT("/api/farms/{slug}/checklist/{step}", {
          params: { path: { slug, step } },
          body: { skipped },
        }),
      ),
    onSuccess: (steps) => queries.setQueryData(keyOf(slug), steps),
  });
}
