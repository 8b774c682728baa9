/* The rules by which points are left out: their bounds on a slider and what they are usually. */

import type { SitingLayer } from "./queries";
import { t } from "./t";

export type Rule =
  "headland_m" | "start_m" | "end_m" | "slowest" | "fastest" | "jump" | "overlap" | "spreads";

export interface RuleFacts {
  rule: Rule;
  label: string;
  help: string;
  unit: string;
  low: number;
  high: number;
  step: number;
  usual: number;
}

const YIELD: RuleFacts[] = [
  {
    rule: "headland_m",
    label: t("siting.ruleHeadland"),
    help: t("siting.ruleHeadlandHelp"),
    unit: "m",
    low: 0,
    high: 40,
    step: 1,
    usual: 12,
  },
  {
    rule: "start_m",
    label: t("siting.ruleStart"),
    help: t("siting.ruleStartHelp"),
    unit: "m",
    low: 0,
    high: 40,
    step: 1,
    usual: 12,
  },
  {
    rule: "end_m",
    label: t("siting.ruleEnd"),
    help: t("siting.ruleEndHelp"),
    unit: "m",
    low: 0,
    high: 40,
    step: 1,
    usual: 6,
  },
  {
    rule: "slowest",
    label: t("siting.ruleSlowest"),
    help: t("siting.ofUsualSpeed"),
    unit: "×",
    low: 0,
    high: 1,
    step: 0.05,
    usual: 0.4,
  },
  {
    rule: "fastest",
    label: t("siting.ruleFastest"),
    help: t("siting.ofUsualSpeed"),
    unit: "×",
    low: 1,
    high: 4,
    step: 0.1,
    usual: 1.8,
  },
  {
    rule: "jump",
    label: t("siting.ruleJump"),
    help: t("siting.ruleJumpHelp"),
    unit: "×",
    low: 0.05,
    high: 2,
    step: 0.05,
    usual: 0.25,
  },
  {
    rule: "overlap",
    label: t("siting.ruleOverlap"),
    help: t("siting.ruleOverlapHelp"),
    unit: "×",
    low: 0.1,
    high: 1,
    step: 0.05,
    usual: 0.5,
  },
  {
    rule: "spreads",
    label: t("siting.ruleSpreads"),
    help: t("siting.ruleSpreadsHelp"),
    unit: t("siting.spreads"),
    low: 1,
    high: 10,
    step: 0.5,
    usual: 3,
  },
];

// A survey has no harvester: where it turned and how fast it went say nothing of its values.
const SURVEY_USUAL: Partial<Record<Rule, number>> = { headland_m: 0, spreads: 4 };

/** The rules that count for a layer. */
export function rulesOf(kind: SitingLayer["kind"]): RuleFacts[] {
  if (kind === "yield") return YIELD;
  return YIELD.flatMap((rule) => {
    const usual = SURVEY_USUAL[rule.rule];
    return usual === undefined ? [] : [{ ...rule, usual }];
  });
}
