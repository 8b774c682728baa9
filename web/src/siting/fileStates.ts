import type { LayerFile } from "./queries";
import { t } from "./t";

export const FILE_STATES: Record<LayerFile["state"], string> = {
  looking: t("siting.stateLooking"),
  looked: t("siting.stateLooked"),
  storing: t("siting.stateStoring"),
  stored: t("siting.stateStored"),
  failed: t("siting.stateFailed"),
};
