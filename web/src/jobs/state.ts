import type { Job } from "./queries";
import type { Unsent } from "./store";

/** How far a job is, with what was reported of it on this phone and not sent yet. */
export type JobState = "waiting" | "running" | "stopped";

export function stateOf(job: Job, unsent: Unsent[]): JobState {
  const own = unsent.filter((u) => u.report.irrigation_id === job.id && u.refused === "");
  if (own.some((u) => u.report.kind === "stop")) return "stopped";
  return job.running || own.some((u) => u.report.kind === "start") ? "running" : "waiting";
}
