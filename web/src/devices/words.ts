import { span } from "../time/farmTime";
import { t } from "./t";

/** How a logger's clock stands: "right", "1 h slow". */
export function clockWord(skewSeconds: number | null): string {
  if (skewSeconds === null) return "–";
  if (Math.abs(skewSeconds) < 60) return t("devices.correct");
  return t("devices.skewsecondsSkewsecondsSlowFast", {
    skewSeconds: span(Math.abs(skewSeconds) / 3600),
    skewSeconds2: skewSeconds < 0 ? "yes" : "no",
  });
}
