import { CautionNote } from "../app/CautionNote";
import { t } from "./t";

/** What to watch for where valves open from afar. */
export function Cautions() {
  return <CautionNote title={t("valves.cautionsTitle")}>{t("valves.cautions")}</CautionNote>;
}
