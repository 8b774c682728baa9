import { span, type FarmTime } from "../time/farmTime";
import { figure, measure, type UnitSystem } from "../units/format";
import type { ChartLine, Health, Rule } from "./queries";
import { t } from "./t";

/** What a person should look at first: the more, the higher. */
export function concern(row: Health): number {
  if (row.status === "retired") return -1;
  return (
    (row.silent ? 8 : 0) +
    (row.status === "suspect" ? 6 : 0) +
    (row.needs_calibration ? 5 : 0) +
    (row.unreliable ? 4 : 0) +
    (row.next_task?.overdue ? 2 : 0)
  );
}

/** Why an instrument wants looking at, in a few words; empty when it is well. */
export function worries(row: Health): string[] {
  const found = [];
  if (row.status === "retired") return [];
  if (row.last_at === null) found.push(t("instruments.neverRead"));
  else if (row.silent) found.push(t("instruments.silent"));
  if (row.status === "suspect") found.push(t("instruments.suspect"));
  if (row.needs_calibration) found.push(t("instruments.noCalibrationCurve"));
  if (row.unreliable) found.push(...row.flags.slice(0, 2));
  if (row.next_task?.overdue)
    found.push(t("instruments.due", { toLowerCase: row.next_task.name.toLowerCase() }));
  return found;
}

/** "3 h ago"; "never". */
export function lastWord(at: string | null, time: FarmTime): string {
  if (at === null) return t("instruments.never");
  const hours = -time.hoursTo(at);
  return hours < 0.05 ? t("instruments.now") : t("instruments.ago", { hours: span(hours) });
}

export function trustedShare(share: number | null): string {
  if (share === null) return "–";
  // Not all of them is not a hundred.
  const percent = share < 1 ? Math.min(Math.floor(share * 100), 99) : 100;
  return `${percent} %`;
}

/** The rules that a flag stands for. */
export function failed(flags: number, rules: Rule[]): Rule[] {
  return rules.filter((r) => (flags & r.flag) !== 0);
}

export function depthLabel(mm: number | null, units: UnitSystem): string {
  return mm === null
    ? t("instruments.reading")
    : `${figure(mm, units, "depth")} ${measure(units, "depth").label}`;
}

const QUANTITY: Record<ChartLine["quantity"], string> = {
  theta: t("instruments.waterContent"),
  tension: t("instruments.tension"),
  counts: t("instruments.counts"),
  permittivity: t("instruments.permittivity"),
  resistance: t("instruments.resistance"),
  temperature: t("instruments.soilTemperature"),
  water_depth: t("instruments.waterDepth"),
  volume: t("instruments.volume"),
  leaf_potential: t("instruments.leafWaterPotential"),
  available: t("instruments.shareOfAvailableWater"),
};

export function quantityName(quantity: ChartLine["quantity"]): string {
  return QUANTITY[quantity];
}

/** The server's plain unit as it is printed. */
export function unitName(unit: string): string {
  return { "m3/m3": "m³/m³", m3: "m³", degC: "°C", degF: "°F", kOhm: "kΩ" }[unit] ?? unit;
}
