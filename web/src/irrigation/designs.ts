/* The figures each system is known by: which ones, what they are called, their units. What they
   come to is worked out by the server. */

import type { Schemas } from "../api/client";
import type { measure, UnitSystem } from "../units/format";
import { t } from "./t";

type MeasureName = Parameters<typeof measure>[1];

export interface Figure {
  name: string;
  label: string;
  /** A measure turned into the person's units, or a plain unit shown as it is. */
  as?: MeasureName;
  unit?: string;
  /** What one of the plain unit is to the server. */
  size?: number;
  optional?: boolean;
}

const FLOW: Figure = { name: "flow_m3_h", label: t("irrigation.flow"), as: "flow" };
const metres = (name: string, label: string, optional = false): Figure => ({
  name,
  label,
  as: "length",
  optional,
});
const hours = (name: string, label: string): Figure => ({ name, label, unit: "h" });

const STRIPS = (what: string): Figure[] => [
  { name: "inflow_l_s", label: t("irrigation.inflowToA", { what }), unit: "l/s" },
  metres(
    "spacing_m",
    what === "furrow" ? t("irrigation.furrowSpacing") : t("irrigation.stripWidth"),
  ),
  metres("length_m", t("irrigation.length")),
  { name: "per_set", label: t("irrigation.runTogether") },
  hours("set_hours", t("irrigation.setLasts")),
  hours("advance_hours", t("irrigation.waterReachesTheEndAfter")),
];
const DRIP: Figure[] = [
  { name: "emitter_l_h", label: t("irrigation.emitterFlow"), unit: "l/h" },
  metres("emitter_spacing_m", t("irrigation.emitterSpacing")),
  metres("line_spacing_m", t("irrigation.rowSpacing")),
  { name: "lines_per_row", label: t("irrigation.linesPerRow"), optional: true },
  { name: "wetted_fraction", label: t("irrigation.groundWetted"), unit: "%", size: 0.01 },
];
const FLOOD: Figure[] = [
  FLOW,
  { name: "flood_mm", label: t("irrigation.depthOfFlood"), as: "water", optional: true },
];

export type SystemKind = Schemas["SystemKind"];

export const FIGURES: Record<SystemKind, Figure[]> = {
  pivot: [
    FLOW,
    metres("length_m", t("irrigation.length")),
    hours("turn_hours", t("irrigation.aPassAt100Takes")),
    metres("wetted_width_m", t("irrigation.wettedWidthAtItsEnd")),
    metres("end_gun_m", t("irrigation.endGunReaches"), true),
    { name: "sector_deg", label: t("irrigation.sector"), unit: "°", optional: true },
  ],
  "linear move": [
    FLOW,
    metres("width_m", t("irrigation.width")),
    metres("travel_m", t("irrigation.travelDistance")),
    { name: "speed_m_h", label: t("irrigation.speedAt100"), as: "speed" },
    metres("wetted_width_m", t("irrigation.wettedWidth")),
  ],
  "travelling sprinkler": [
    FLOW,
    metres("lane_spacing_m", t("irrigation.laneSpacing")),
    metres("lane_length_m", t("irrigation.laneLength")),
    { name: "speed_m_h", label: t("irrigation.speed"), as: "speed" },
    metres("wetted_radius_m", t("irrigation.wettedRadius")),
  ],
  "solid set sprinkler": [
    { name: "nozzle_m3_h", label: t("irrigation.flowOfASprinkler"), as: "flow" },
    metres("spacing_m", t("irrigation.spacingAlongTheLine")),
    metres("row_spacing_m", t("irrigation.lineSpacing")),
  ],
  drip: DRIP,
  "micro-sprinkler": DRIP,
  furrow: STRIPS("furrow"),
  border: STRIPS("strip"),
  basin: FLOOD,
  "rice paddy": FLOOD,
};

export type DesignForm = Record<string, string>;
export type Units = UnitSystem;
