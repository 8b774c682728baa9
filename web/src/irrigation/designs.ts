/* The figures each system is known by: which ones, what they are called, their units. What they
   come to is worked out by the server. */

import type { measure, UnitSystem } from "../units/format";

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

const FLOW: Figure = { name: "flow_m3_h", label: "Flow", as: "flow" };
const metres = (name: string, label: string, optional = false): Figure => ({
  name,
  label,
  as: "length",
  optional,
});
const hours = (name: string, label: string): Figure => ({ name, label, unit: "h" });

const STRIPS = (what: string): Figure[] => [
  { name: "inflow_l_s", label: `Inflow to a ${what}`, unit: "l/s" },
  metres("spacing_m", what === "furrow" ? "Furrow spacing" : "Strip width"),
  metres("length_m", "Length"),
  { name: "per_set", label: "Run together" },
  hours("set_hours", "Set lasts"),
  hours("advance_hours", "Water reaches the end after"),
];
const DRIP: Figure[] = [
  { name: "emitter_l_h", label: "Emitter flow", unit: "l/h" },
  metres("emitter_spacing_m", "Emitter spacing"),
  metres("line_spacing_m", "Row spacing"),
  { name: "lines_per_row", label: "Lines to a row", optional: true },
  { name: "wetted_fraction", label: "Ground wetted", unit: "%", size: 0.01 },
];
const FLOOD: Figure[] = [FLOW, { name: "flood_mm", label: "Flood", as: "water", optional: true }];

export const FIGURES: Record<string, Figure[]> = {
  pivot: [
    FLOW,
    metres("length_m", "Length"),
    hours("turn_hours", "A pass at 100 % takes"),
    metres("wetted_width_m", "Wetted width at its end"),
    metres("end_gun_m", "End gun reaches", true),
    { name: "sector_deg", label: "Sector", unit: "°", optional: true },
  ],
  "linear move": [
    FLOW,
    metres("width_m", "Width"),
    metres("travel_m", "Travel"),
    { name: "speed_m_h", label: "Speed at 100 %", as: "speed" },
    metres("wetted_width_m", "Wetted width"),
  ],
  "travelling sprinkler": [
    FLOW,
    metres("lane_spacing_m", "Lane spacing"),
    metres("lane_length_m", "Lane length"),
    { name: "speed_m_h", label: "Speed", as: "speed" },
    metres("wetted_radius_m", "Wetted radius"),
  ],
  "solid set sprinkler": [
    { name: "nozzle_m3_h", label: "Flow of a sprinkler", as: "flow" },
    metres("spacing_m", "Spacing along the line"),
    metres("row_spacing_m", "Line spacing"),
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
