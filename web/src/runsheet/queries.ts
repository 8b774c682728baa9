import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type RunSheetData = Schemas["RunSheetOut"];
export type SheetData = Schemas["SheetOut"];
export type SheetSet = Schemas["SheetSetOut"];
export type Standing = Schemas["StandingOut"];
export type SheetBlock = Schemas["SheetBlock"];
export type Broken = Schemas["BrokenOut"];
export type Alarm = Schemas["AlarmOut"];
export type Totals = Schemas["SheetTotals"];
export type Proposal = Schemas["ProposalOut"];
export type SetChange = Schemas["SetChangeOut"];
export type BlockSets = Schemas["BlockSetsIn"];
export type SheetChange = Schemas["SheetChangeIn"];
export type Store = Schemas["StoreOut"];
export type Why = Schemas["WhyOut"];
export type Tried = Schemas["TriedOut"];

const LOOK_AGAIN_MS = 1500;
const key = (slug: string) => ["farm", slug, "run-sheet"];

export function useRunSheet(slug: string) {
  return useQuery({
    queryKey: key(slug),
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/run-sheet", { params: { path: { slug } } })),
    // A worker makes the plan: looked at until it is there.
    refetchInterval: (query) => (query.state.data?.planning ? LOOK_AGAIN_MS : false),
  });
}

/** What answers with the whole run sheet puts it in the place of the one that is shown. */
function useSheetChange<T>(slug: string, change: (body: T) => Promise<RunSheetData>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: (found) => {
      queries.setQueryData(key(slug), found);
      void queries.invalidateQueries({ queryKey: ["farm", slug, "run-sheet-block"] });
    },
    // Refused, as a rule, because somebody else changed it: show it as it is now.
    onError: () => queries.invalidateQueries({ queryKey: key(slug) }),
  });
}

export function usePlanSheet(slug: string) {
  return useSheetChange(slug, () =>
    answered(client.POST("/api/farms/{slug}/run-sheet/plan", { params: { path: { slug } } })),
  );
}

export function useTakeSheet(slug: string) {
  return useSheetChange(slug, (sheet: number) =>
    answered(
      client.POST("/api/farms/{slug}/run-sheet/proposals/{sheet_id}/take", {
        params: { path: { slug, sheet_id: sheet } },
      }),
    ),
  );
}

export function useDiscardSheet(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (sheet: number) =>
      answered(
        client.DELETE("/api/farms/{slug}/run-sheet/proposals/{sheet_id}", {
          params: { path: { slug, sheet_id: sheet } },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: key(slug) }),
  });
}

export function useChangeSheet(slug: string) {
  return useSheetChange(slug, (body: SheetChange) =>
    answered(
      client.POST("/api/farms/{slug}/run-sheet/changes", { params: { path: { slug } }, body }),
    ),
  );
}

export function useUndoSheetChange(slug: string) {
  return useSheetChange(slug, (edit: number) =>
    answered(
      client.POST("/api/farms/{slug}/run-sheet/undo", {
        params: { path: { slug } },
        body: { edit },
      }),
    ),
  );
}

export function useAnnounce(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (edit: number) =>
      answered(
        client.POST("/api/farms/{slug}/run-sheet/announce", {
          params: { path: { slug } },
          body: { edit },
        }),
      ),
    onSuccess: (found) => queries.setQueryData(key(slug), found),
    // The board and the log show what is scheduled.
    onSettled: () => queries.invalidateQueries({ queryKey: ["farm", slug] }),
  });
}

/** What a change would break and cost, as it is dragged; null asks for nothing. */
export function useTried(slug: string, body: SheetChange | null) {
  return useQuery({
    queryKey: ["farm", slug, "run-sheet-tried", body],
    queryFn: ({ signal }) =>
      answered(
        client.POST("/api/farms/{slug}/run-sheet/try", {
          params: { path: { slug } },
          body: body ?? { edit: 0, blocks: [] },
          signal,
        }),
      ),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
    retry: false,
  });
}

/** Why a block is irrigated when it is, and how its store goes. */
export function useWhy(slug: string, block: number | null, edit: number) {
  return useQuery({
    queryKey: ["farm", slug, "run-sheet-block", block, edit],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/run-sheet/blocks/{block_id}", {
          params: { path: { slug, block_id: block ?? 0 } },
        }),
      ),
    enabled: block !== null,
    placeholderData: keepPreviousData,
  });
}
