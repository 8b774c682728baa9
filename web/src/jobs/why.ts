import type { Why } from "./queries";
import { t } from "./t";

/** Why an irrigation was stopped, as it is chosen and told. */
export const WHY_STOPPED: Record<Why, () => string> = {
  finished: () => t("jobs.finished"),
  rain: () => t("jobs.rain"),
  wind: () => t("jobs.wind"),
  breakdown: () => t("jobs.breakdown"),
  no_water: () => t("jobs.noWater"),
  other: () => t("jobs.other"),
};
