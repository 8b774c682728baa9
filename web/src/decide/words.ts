import type { Decision, Why } from "./queries";
import vocabulary from "../../../server/base/vocabulary.json";
import { t } from "./t";

/** Why an advice may not be followed. */
export const WHYS = Object.keys(vocabulary.why) as Why[];

/** "Skipped, Maud Pellander: no labour available, two men short" */
export function decisionWords(d: Decision): string {
  const why = [d.why ? t(`why.${d.why}`) : "", d.reason].filter(Boolean).join(", ");
  const who = d.made_by ? `, ${d.made_by}` : "";
  return `${t(`decision.${d.kind}`)}${who}${why ? `: ${why}` : ""}`;
}
