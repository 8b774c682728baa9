import type { Decision, Why } from "./queries";
import { t } from "../language/t";

/** Why an advice was not followed. */
export const WHY_WORDS: Record<Why, string> = {
  rain: t("decide.rainIsComing"),
  field_work: t("decide.fieldWorkFirst"),
  spray: t("decide.sprayOrFertiliserInterval"),
  wind: t("decide.tooWindy"),
  frost: t("decide.frost"),
  no_water: t("decide.noWaterAvailable"),
  no_hands: t("decide.noLabourAvailable"),
  breakdown: t("decide.equipmentBreakdown"),
  looks_wet: t("decide.theSoilLooksWet"),
  looks_dry: t("decide.theSoilLooksDry"),
  other: t("decide.anotherReason"),
};

const KIND_WORDS: Record<Decision["kind"], string> = {
  accepted: t("decide.accepted"),
  changed: t("decide.changed"),
  declined: t("decide.notNow"),
};

/** "Not now, Maud Pellander: no labour available, two men short" */
export function decisionWords(d: Decision): string {
  const why = [d.why ? WHY_WORDS[d.why] : "", d.reason].filter(Boolean).join(", ");
  const who = d.made_by ? `, ${d.made_by}` : "";
  return `${KIND_WORDS[d.kind]}${who}${why ? `: ${why}` : ""}`;
}
