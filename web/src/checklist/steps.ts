/* What each step of setting up is for, what is missing without it, and where it is done. */

import { t } from "./t";
import type { ChecklistStep, Step } from "./queries";

export interface StepWords {
  title: string;
  purpose: string;
  without: string;
  action: string;
  /** Below the farm's address; null where it is not done on a page. */
  path: string | null;
}

export const STEPS: Record<Step, StepWords> = {
  position: {
    title: t("checklist.positionTitle"),
    purpose: t("checklist.positionPurpose"),
    without: t("checklist.positionWithout"),
    action: t("checklist.positionAction"),
    path: "irrigation/weather",
  },
  soil: {
    title: t("checklist.soilTitle"),
    purpose: t("checklist.soilPurpose"),
    without: t("checklist.soilWithout"),
    action: t("checklist.soilAction"),
    path: "farm/soils",
  },
  blocks: {
    title: t("checklist.blocksTitle"),
    purpose: t("checklist.blocksPurpose"),
    without: t("checklist.blocksWithout"),
    action: t("checklist.blocksAction"),
    path: "new-block",
  },
  equipment: {
    title: t("checklist.equipmentTitle"),
    purpose: t("checklist.equipmentPurpose"),
    without: t("checklist.equipmentWithout"),
    action: t("checklist.equipmentAction"),
    path: "farm/blocks",
  },
  crop: {
    title: t("checklist.cropTitle"),
    purpose: t("checklist.cropPurpose"),
    without: t("checklist.cropWithout"),
    action: t("checklist.cropAction"),
    path: "farm/blocks",
  },
  weather: {
    title: t("checklist.weatherTitle"),
    purpose: t("checklist.weatherPurpose"),
    without: t("checklist.weatherWithout"),
    action: t("checklist.weatherAction"),
    path: "irrigation/weather",
  },
  instruments: {
    title: t("checklist.instrumentsTitle"),
    purpose: t("checklist.instrumentsPurpose"),
    without: t("checklist.instrumentsWithout"),
    action: t("checklist.instrumentsAction"),
    path: "farm/instruments",
  },
  readings: {
    title: t("checklist.readingsTitle"),
    purpose: t("checklist.readingsPurpose"),
    without: t("checklist.readingsWithout"),
    action: t("checklist.readingsAction"),
    path: "farm/loggers",
  },
  people: {
    title: t("checklist.peopleTitle"),
    purpose: t("checklist.peoplePurpose"),
    without: t("checklist.peopleWithout"),
    action: t("checklist.peopleAction"),
    path: "farm/people",
  },
};

/** A farm gets advice without these. */
export const OPTIONAL = new Set<Step>([
  "position",
  "equipment",
  "instruments",
  "readings",
  "people",
]);

export function isOpen(step: ChecklistStep): boolean {
  return !step.done && !step.skipped;
}
