import { M3_H_PER_L_S, runningTime, withUnit, type UnitSystem } from "../units/format";
import type { FlowFault, Valve, ValveEntry } from "./queries";
import { t } from "./t";

export const FAULT: Record<FlowFault, () => string> = {
  burst: () => t("valves.burst"),
  blocked: () => t("valves.blocked"),
  not_opened: () => t("valves.notOpened"),
  leak: () => t("valves.leak"),
};

const ENTRY: Record<ValveEntry["kind"], () => string> = {
  opening_confirmed: () => t("valves.openingConfirmed"),
  opened: () => t("valves.opened"),
  opening_refused: () => t("valves.openingRefused"),
  opening_expired: () => t("valves.openingExpired"),
  closing_asked: () => t("valves.closingAsked"),
  closed: () => t("valves.closed"),
  locked_out: () => t("valves.lockedOut"),
  lock_removed: () => t("valves.lockRemoved"),
  emergency_stop: () => t("valves.emergencyStop"),
  stop_released: () => t("valves.stopReleased"),
  controller_restarted: () => t("valves.controllerRestarted"),
  contact_lost: () => t("valves.contactLost"),
  alarm: () => t("valves.alarm"),
};

const WHY: Record<string, () => string> = {
  command: () => t("valves.onCommand"),
  run_time: () => t("valves.runTimeOver"),
  contact_lost: () => t("valves.withoutContact"),
  locked_out: () => t("valves.becauseLockedOut"),
  stopped: () => t("valves.byTheStop"),
  restart: () => t("valves.byARestart"),
  too_long: () => t("valves.tooLong"),
  too_late: () => t("valves.tooLate"),
  no_valve: () => t("valves.noSuchValve"),
  ...FAULT,
};

/** A line of the record: what happened and why. */
export function entryWord(entry: ValveEntry): string {
  const why = WHY[entry.why]?.();
  return why ? `${ENTRY[entry.kind]()}: ${why}` : ENTRY[entry.kind]();
}

/** A flow of L/s in the person's unit. */
export function flowWord(ls: number | null, units: UnitSystem): string {
  return withUnit(ls === null ? null : ls * M3_H_PER_L_S, units, "flow");
}

/** How a valve stands; what its controller told while it was heard, not more. */
export function stateWord(valve: Valve): string {
  if (valve.is_open === null) return t("valves.unknown");
  if (valve.silent) return valve.is_open ? t("valves.wasOpen") : t("valves.wasClosed");
  if (valve.closing) return t("valves.closing");
  if (valve.opening) return t("valves.opening");
  if (!valve.is_open) return valve.locked_out ? t("valves.lockedOut") : t("valves.closed");
  return t("valves.isOpen");
}

/** In how long an open valve closes by itself. */
export function closesWord(valve: Valve): string {
  if (!valve.is_open || valve.silent || valve.closes_in_s === null) return "";
  return t("valves.closesIn", { time: runningTime(valve.closes_in_s / 3600) });
}
