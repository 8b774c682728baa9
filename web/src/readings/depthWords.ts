import { figure, measure, type UnitSystem } from "../units/format";

/** A sensor's depth; empty for what has none, like a water tube. */
export function depthWords(mm: number | null, units: UnitSystem): string {
  return mm === null ? "" : `${figure(mm, units, "depth")} ${measure(units, "depth").label}`;
}
