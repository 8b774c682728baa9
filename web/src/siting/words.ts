import type { ExclusionKind, Purpose, SitingLayer, Spot } from "./queries";
import { t } from "./t";

export const PURPOSES: Record<NonNullable<Purpose>, string> = {
  block: t("siting.purposeBlock"),
  limiting: t("siting.purposeLimiting"),
  decisions: t("siting.purposeDecisions"),
  pair: t("siting.purposePair"),
};

export const KINDS: Record<SitingLayer["kind"], string> = {
  yield: t("siting.kindYield"),
  "shallow conductivity": t("siting.kindShallow"),
  "deep conductivity": t("siting.kindDeep"),
  elevation: t("siting.kindElevation"),
  "vegetation index": t("siting.kindIndex"),
  "soil property": t("siting.kindSoil"),
};

export const YEAR_KINDS: Record<NonNullable<SitingLayer["year_kind"]>, string> = {
  dry: t("siting.dryYear"),
  usual: t("siting.usualYear"),
  wet: t("siting.wetYear"),
  unknown: t("siting.unknownYear"),
};

export const EXCLUDED: Record<ExclusionKind, string> = {
  "edge and headland": t("siting.offEdge"),
  trees: t("siting.offTrees"),
  fence: t("siting.offFence"),
  track: t("siting.offTrack"),
  "traffic lane": t("siting.offLane"),
  building: t("siting.offBuilding"),
  "wet spot": t("siting.offWetSpot"),
  spring: t("siting.offSpring"),
  flooding: t("siting.offFlooding"),
  "pivot tower and span overlap": t("siting.offTower"),
  "first and last emitters": t("siting.offRowEnd"),
  "drawn by a person": t("siting.offDrawn"),
};

export const TERMS: Record<Spot["terms"][number]["term"], string> = {
  "near the median": t("siting.termNear"),
  "even around": t("siting.termEven"),
  "share it represents": t("siting.termShare"),
  walk: t("siting.termWalk"),
  cable: t("siting.termCable"),
  sight: t("siting.termSight"),
};

export const STABILITY = [
  t("siting.classUnknown"),
  t("siting.classLow"),
  t("siting.classAverage"),
  t("siting.classHigh"),
  t("siting.classUnsteady"),
  t("siting.classFlipFlop"),
] as const;

export const DROPPED: Record<string, string> = {
  kept: t("siting.pointsKept"),
  outside: t("siting.droppedOutside"),
  no_value: t("siting.droppedNoValue"),
  headland: t("siting.droppedHeadland"),
  delay: t("siting.droppedDelay"),
  speed: t("siting.droppedSpeed"),
  overlap: t("siting.droppedOverlap"),
  outlier: t("siting.droppedOutlier"),
  put_aside: t("siting.droppedPutAside"),
};

/** Years put together, as the server names them beside the layers. */
export const TOGETHER: Record<string, string> = {
  "all years": t("siting.allYears"),
  "dry years": t("siting.dryYears"),
  "usual years": t("siting.usualYears"),
  "wet years": t("siting.wetYears"),
};

/** What a zone is called: by a person, or by what it is. */
export function zoneName(zone: { zone: number; name: string }): string {
  return zone.name || t("siting.zoneNumber", { number: zone.zone + 1 });
}
