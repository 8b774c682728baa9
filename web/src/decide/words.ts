import type { Decision, Why } from "./queries";

/** Why an advice was not followed. */
export const WHY_WORDS: Record<Why, string> = {
  rain: "rain is coming",
  field_work: "field work first",
  spray: "spray or fertiliser interval",
  wind: "too windy",
  frost: "frost",
  no_water: "no water available",
  no_hands: "no labour available",
  breakdown: "equipment breakdown",
  looks_wet: "the soil looks wet",
  looks_dry: "the soil looks dry",
  other: "another reason",
};

const KIND_WORDS: Record<Decision["kind"], string> = {
  accepted: "Accepted",
  changed: "Changed",
  declined: "Not now",
};

/** "Not now, Maud Pellander: no labour available, two men short" */
export function decisionWords(d: Decision): string {
  const why = [d.why ? WHY_WORDS[d.why] : "", d.reason].filter(Boolean).join(", ");
  const who = d.made_by ? `, ${d.made_by}` : "";
  return `${KIND_WORDS[d.kind]}${who}${why ? `: ${why}` : ""}`;
}
