import { useOutbox, type Queue } from "../outbox/useOutbox";
import { sendWaiting } from "./sending";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";

const REPORTS: Queue<Unsent> = {
  name: "reports",
  waiting: unsentOf,
  keep: keepUnsent,
  drop: dropUnsent,
  send: (slug) => sendWaiting(slug),
};

/** Reports that wait on this phone. */
export function useReports(slug: string) {
  return useOutbox(REPORTS, slug);
}
