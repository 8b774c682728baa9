import { figure, measure, withUnit, type UnitSystem } from "../units/format";
import type { FarmTime } from "../time/farmTime";
import type { Evidence, Finding } from "./queries";
import { t } from "./t";

type Figure = Evidence["figure"];

const FIGURES: Record<Figure, (value: number, units: UnitSystem) => string> = {
  water: (value, units) => withUnit(value, units, "water"),
  share: (value, units) => `${figure(value, units, "share", 0)} ${measure(units, "share").label}`,
  content: (value, units) => withUnit(value, units, "theta"),
  tension: (value, units) => withUnit(value, units, "tension"),
  depth: (value, units) => withUnit(value, units, "depth"),
  hours: (value) => `${value.toFixed(1)} h`,
  speed: (value, units) => t("findings.perHour", { depth: withUnit(value, units, "depth") }),
  rate: (value, units) => withUnit(value, units, "waterDay"),
};

/** A piece of evidence's figure in the person's unit; a dash where it is not known. */
export function evidenceFigure(kind: Figure, value: number | null, units: UnitSystem): string {
  return value === null ? "–" : FIGURES[kind](value, units);
}

/** The middle of what was seen, where something else was to be expected. */
export function typicalWords(finding: Finding, units: UnitSystem): string {
  const { figure: kind, typical_seen: seen, typical_expected: expected } = finding;
  if (seen === null || expected === null) return "";
  return t("findings.typical", {
    figure: t(`findings.${kind}`),
    seen: evidenceFigure(kind, seen, units),
    expected: evidenceFigure(kind, expected, units),
  });
}

/** Instrument and depth of a finding or a piece of its evidence; the block's own has neither. */
export function placeWords(
  at: { instrument: string; depth_mm: number | null },
  units: UnitSystem,
): string {
  if (!at.instrument) return t("findings.wholeBlock");
  return at.depth_mm === null
    ? at.instrument
    : `${at.instrument}, ${withUnit(at.depth_mm, units, "depth")}`;
}

/** What a week of leaving it costs. */
export function costWords(finding: Finding, units: UnitSystem): string {
  const parts = [];
  if (finding.cost_mm_week !== null && finding.cost_m3_week !== null)
    parts.push(
      t("findings.costsWater", {
        depth: withUnit(finding.cost_mm_week, units, "water"),
        volume: withUnit(finding.cost_m3_week, units, "volume"),
      }),
    );
  if (finding.stress_days_week)
    parts.push(t("findings.costsStress", { days: Math.round(finding.stress_days_week) }));
  return parts.join(", ") || t("findings.costUnknown");
}

/** Since when it is seen, and whether it still is. */
export function seenWords(finding: Finding, time: FarmTime): string {
  const since = t("findings.since", { date: time.date(new Date(finding.first_at)) });
  const ended = finding.lapsed_at
    ? t("findings.lapsed", { date: time.date(new Date(finding.lapsed_at)) })
    : t("findings.lastSeen", { date: time.date(new Date(finding.last_at)) });
  return `${since}, ${ended}`;
}
