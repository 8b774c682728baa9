/* Levels of a rice field as people say them. */

import { figure, measure, type UnitSystem } from "../units/format";
import { t } from "./t";

/** "5 cm ponded", "12 cm below the surface", "at the surface". */
export function levelWords(mm: number, units: UnitSystem): string {
  const level = `${figure(Math.abs(mm), units, "depth")} ${measure(units, "depth").label}`;
  if (figure(Math.abs(mm), units, "depth") === figure(0, units, "depth"))
    return t("rice.atTheSurface");
  return mm > 0 ? t("rice.ponded", { level }) : t("rice.below", { level });
}

/** The level as a figure with its sign: "+5 cm", "−15 cm". */
export function levelFigure(mm: number, units: UnitSystem): string {
  const own = figure(Math.abs(mm), units, "depth");
  const sign = own === figure(0, units, "depth") ? "" : mm > 0 ? "+" : "−";
  return `${sign}${own} ${measure(units, "depth").label}`;
}
