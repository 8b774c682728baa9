import { useOutbox, type Queue } from "../outbox/useOutbox";
import { sendWaiting } from "./sending";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";

const VISITS: Queue<Unsent> = {
  name: "visits",
  waiting: unsentOf,
  keep: keepUnsent,
  drop: dropUnsent,
  send: (slug) => sendWaiting(slug),
};

/** Visits that wait on this phone. */
export function useVisits(slug: string) {
  return useOutbox(VISITS, slug);
}
