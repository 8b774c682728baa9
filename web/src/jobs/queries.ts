import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Jobs = Schemas["JobsOut"];
export type Job = Schemas["JobOut"];
export type ReportIn = Schemas["ReportIn"];
export type ReportOut = Schemas["ReportOut"];
export type FieldReport = Schemas["FieldReportOut"];
export type Why = NonNullable<ReportIn["why"]>;

/** What runs and what is to begin; without signal the last answer stands in. */
export function useJobs(slug: string) {
  return useQuery({
    queryKey: ["farm", slug, "jobs"],
    queryFn: () => answered(client.GET("/api/farms/{slug}/jobs", { params: { path: { slug } } })),
    networkMode: "always",
    refetchInterval: 60_000,
  });
}

export function sendReports(slug: string, reports: ReportIn[]): Promise<ReportOut[]> {
  return answered(
    client.POST("/api/farms/{slug}/jobs/reports", {
      params: { path: { slug } },
      body: { reports },
    }),
  );
}

/** The picture of a report; sent again under the same key it is kept once. */
export function sendPhoto(slug: string, key: string, photo: Blob): Promise<unknown> {
  const form = new FormData();
  form.set("file", photo, "field.jpg");
  form.set("key", key);
  return answered(
    client.POST("/api/farms/{slug}/jobs/photos", {
      params: { path: { slug } },
      body: { file: "field.jpg", key },
      bodySerializer: () => form,
    }),
  );
}

/** What was reported from the field in so many days. */
export function useFieldReports(slug: string, days: number) {
  return useQuery({
    queryKey: ["farm", slug, "field-reports", days],
    queryFn: () =>
      answered(
        client.GET("/api/farms/{slug}/jobs/reports", {
          params: { path: { slug }, query: { days } },
        }),
      ),
  });
}
