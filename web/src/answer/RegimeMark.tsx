import { ink } from "../theme/system";
import type { ReactNode } from "react";
import type { Answer } from "./types";
import { t } from "./t";

type Regime = Answer["regime"];

/** A shape for each rule of watering but the usual one, before the crop's name. */
export function RegimeMark({ regime }: { regime: Regime }) {
  const shape = SHAPES[regime];
  if (!shape) return null;
  return (
    <svg
      width="14"
      height="14"
      viewBox="0 0 14 14"
      role="img"
      aria-label={NAMES[regime]}
      style={{ display: "inline", verticalAlign: "-2px", marginRight: "5px" }}
    >
      <title>{NAMES[regime]}</title>
      <g stroke={ink("loam")} strokeWidth="1.5" fill="none" strokeLinecap="round">
        {shape}
      </g>
    </svg>
  );
}

const NAMES: Record<Regime, string> = {
  above_refill: "",
  ponded: t("answer.regimePonded"),
  leaf_guided: t("answer.regimeLeaf"),
  deficit: t("answer.regimeDeficit"),
  cut_or_grazed: t("answer.regimeCut"),
};

const SHAPES: Record<Regime, ReactNode> = {
  above_refill: null,
  // A tube in standing water.
  ponded: (
    <>
      <path d="M5 1 V13 H9 V1" />
      <path d="M1 6 H4 M10 6 H13" />
    </>
  ),
  // A leaf with its rib.
  leaf_guided: (
    <>
      <path d="M2 12 C1 5 6 2 12 2 C12 8 9 13 2 12 Z" />
      <path d="M2 12 L8 6" />
    </>
  ),
  // A measure, half filled.
  deficit: (
    <>
      <path d="M3 1 V13 H11 V1" />
      <path d="M3 8 H11" />
    </>
  ),
  // Three stalks, cut off level.
  cut_or_grazed: (
    <>
      <path d="M3 13 V5 M7 13 V5 M11 13 V5" />
      <path d="M1 3 H13" strokeDasharray="2 2" />
    </>
  ),
};
