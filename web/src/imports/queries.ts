import { useMutation, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answered, client, type Schemas } from "../api/client";
import { refreshFarm } from "../api/farmQueries";

export type ImportDetail = Schemas["ImportDetail"];
/** One whose first rows are read. */
export type ReadDetail = ImportDetail & { layout: Layout; preview: Preview };
export type FileImport = Schemas["FileImportOut"];
export type Layout = Schemas["Layout"];
export type Preview = Schemas["FilePreviewOut"];
export type Sensor = Schemas["ImportSensorOut"];
export type FileReport = Schemas["FileReportOut"];
export type RefusedCell = Schemas["RefusedCellOut"];

const BUSY = new Set<FileImport["state"]>(["reading", "checking", "storing", "undoing"]);
export const isBusy = (state: FileImport["state"]) => BUSY.has(state);

export function useImports(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "imports"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/imports", { params: { path: { slug } } })),
    refetchInterval: (q) => (q.state.data?.some((i) => isBusy(i.state)) ? 1500 : false),
  });
}

export function useUpload(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ file, instrument }: { file: File; instrument: number | null }) => {
      const form = new FormData();
      form.set("file", file);
      if (instrument !== null) form.set("instrument_id", String(instrument));
      return answered(
        client.POST("/api/farms/{slug}/imports", {
          params: { path: { slug } },
          body: { file: file.name, instrument_id: instrument },
          bodySerializer: () => form,
        }),
      );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ["farm", slug, "imports"] }),
  });
}

export function useImport(slug: string, id: number) {
  return useQuery({
    queryKey: ["farm", slug, "import", id],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/imports/{import_id}", {
          params: { path: { slug, import_id: id } },
        }),
      ),
  });
}

export const progressKey = (slug: string, id: number) => ["farm", slug, "import-progress", id];

/** The state of a step at work, asked again until it is done. */
export function useProgress(slug: string, id: number, busy: boolean) {
  return useQuery({
    queryKey: progressKey(slug, id),
    enabled: busy,
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/imports/{import_id}/progress", {
          params: { path: { slug, import_id: id } },
        }),
      ),
    refetchInterval: 700,
    gcTime: 0,
  });
}

/** The step at work as it was last heard of; once it is done, all that stands on readings is asked
 * for anew. */
export function useStepAtWork(slug: string, summary: FileImport): FileImport {
  const queries = useQueryClient();
  const busy = isBusy(summary.state);
  const progress = useProgress(slug, summary.id, busy);
  const done = busy && progress.data !== undefined && !isBusy(progress.data.state);
  useEffect(() => {
    if (done) void refreshFarm(queries, slug);
  }, [done, queries, slug]);
  return busy && progress.data ? progress.data : summary;
}

export function useSensors(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "import-sensors"],
    queryFn: () =>
      answered(client.GET("/api/farms/{slug}/imports/sensors", { params: { path: { slug } } })),
  });
}

export function useChangeLayout(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    // One after the other: the last word must be the last to arrive.
    scope: { id: `layout-${id}` },
    mutationFn: (body: Layout) =>
      answered(
        client.PUT("/api/farms/{slug}/imports/{import_id}/layout", {
          params: { path: { slug, import_id: id } },
          body,
        }),
      ),
    onSuccess: (detail) => {
      if (isBusy(detail.summary.state)) queries.setQueryData(progressKey(slug, id), detail.summary);
      queries.setQueryData(["farm", slug, "import", id], detail);
    },
  });
}

/** Guesses anew how the file is read, as one of an instrument. */
export function useGuess(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (instrument: number | null) =>
      answered(
        client.POST("/api/farms/{slug}/imports/{import_id}/guess", {
          params: { path: { slug, import_id: id } },
          body: { instrument_id: instrument },
        }),
      ),
    onSuccess: (summary) => stepBegun(queries, slug, summary),
  });
}

export type Step = "check" | "store" | "undo";

interface StepIn {
  step: Step;
  keepAs?: string;
  device?: number | null;
}

/** A step is queued: the detail shows it, and what was last heard of the step before is forgotten,
 * for taken for this one's end it would hide it. */
export function stepBegun(queries: QueryClient, slug: string, summary: FileImport) {
  queries.setQueryData(progressKey(slug, summary.id), summary);
  queries.setQueryData<ImportDetail>(["farm", slug, "import", summary.id], (old) =>
    old ? { ...old, summary } : old,
  );
}

/** Sets a step going; the page then asks how far it is. */
export function useStep(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ step, keepAs = "", device = null }: StepIn) => {
      const params = { path: { slug, import_id: id } };
      if (step === "check")
        return answered(client.POST("/api/farms/{slug}/imports/{import_id}/check", { params }));
      if (step === "undo")
        return answered(client.POST("/api/farms/{slug}/imports/{import_id}/undo", { params }));
      return answered(
        client.POST("/api/farms/{slug}/imports/{import_id}/store", {
          params,
          body: { keep_as: keepAs, device_id: device },
        }),
      );
    },
    onSuccess: (summary) => stepBegun(queries, slug, summary),
  });
}

export function useDiscard(slug: string, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answered(
        client.DELETE("/api/farms/{slug}/imports/{import_id}", {
          params: { path: { slug, import_id: id } },
        }),
      ),
    onSuccess: () => {
      queries.removeQueries({ queryKey: ["farm", slug, "import", id] });
      return queries.invalidateQueries({ queryKey: ["farm", slug, "imports"] });
    },
  });
}
