import { Refusal } from "./client";

const UNAVAILABLE = 503;
// The database is started again within half a minute.
const MOST_UNAVAILABLE = 6;
const MOST_LOST = 2;

/** Whether a question is worth asking again: the connection was lost, or the server asked for it.
 * A refusal will be the same the second time. */
export function retry(failures: number, error: Error): boolean {
  if (!(error instanceof Refusal)) return false;
  if (error.status === 0) return failures < MOST_LOST;
  return error.status === UNAVAILABLE && failures < MOST_UNAVAILABLE;
}

/** How long to wait before it is asked again [ms]: as long as the server asks for, or 1, 2, 4 s. */
export function retryDelay(failures: number, error: Error): number {
  const asked = error instanceof Refusal ? error.retryAfter : 0;
  return 1000 * (asked > 0 ? asked : Math.min(2 ** failures, 8));
}
