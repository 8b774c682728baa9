import { useQuery } from "@tanstack/react-query";
import { answered, client, type Schemas } from "../api/client";

export type Jobs = Schemas["JobsOut"];
export type Job = Schemas["JobOut"];
export type ReportIn = Schemas["ReportIn"];
export type ReportOut = Schemas["ReportOut"];
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
