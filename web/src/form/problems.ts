import { Refusal } from "../api/client";

/** What is wrong with each field, by the server's path of it. */
export function problemsOf(error: unknown): Record<string, string> {
  if (!(error instanceof Refusal)) return {};
  return Object.fromEntries(error.problems.filter((p) => p.field).map((p) => [p.field, p.message]));
}
