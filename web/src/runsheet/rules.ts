import type { FarmTime } from "../time/farmTime";
import { stretches } from "./lanes";
import type { Broken, SheetData } from "./queries";
import { t } from "./t";

/** What a broken rule says, by its kind; `name` is the source, main, group or machine. */
const WORDS: Record<Broken["rule"], (name: string) => string> = {
  outside: () => t("runsheet.ruleOutside"),
  "not allowed": () => t("runsheet.ruleNotAllowed"),
  wind: () => t("runsheet.ruleWind"),
  overlap: () => t("runsheet.ruleOverlap"),
  "too small": () => t("runsheet.ruleTooSmall"),
  "too large": () => t("runsheet.ruleTooLarge"),
  "too short": () => t("runsheet.ruleTooShort"),
  source: (name) => t("runsheet.ruleSource", { name }),
  main: (name) => t("runsheet.ruleMain", { name }),
  machine: (name) => t("runsheet.ruleMachine", { name }),
  group: (name) => t("runsheet.ruleGroup", { name }),
  people: () => t("runsheet.rulePeople"),
  "day licence": (name) => t("runsheet.ruleDayLicence", { name }),
  "season licence": (name) => t("runsheet.ruleSeasonLicence", { name }),
  peak: (name) => t("runsheet.rulePeak", { name }),
  "smallest flow": (name) => t("runsheet.ruleSmallestFlow", { name }),
};

/** "Tue 14 July 14:00 to 18:00": the first stretch of slots, and how many more there are. */
export function whenWords(slots: number[], sheet: SheetData, time: FarmTime): string {
  const all = stretches(slots);
  const [first] = all;
  if (!first) return "";
  const from = slotAt(sheet, first[0]);
  const to = slotAt(sheet, first[1]);
  const more = all.length > 1 ? t("runsheet.andMoreTimes", { count: all.length - 1 }) : "";
  const end = from.getTime() + 86_400_000 > to.getTime() ? time.clock(to) : time.full(to);
  return t("runsheet.fromTo", { from: time.full(from), to: end, more });
}

/** The instant at which a slot begins; the one after the last ends it. */
export function slotAt(sheet: SheetData, slot: number): Date {
  const inside = Math.min(slot, sheet.starts.length - 1);
  const at = new Date(sheet.starts[inside] ?? sheet.first_at).getTime();
  return new Date(at + (slot - inside) * 7_200_000);
}

/** One broken rule as a sentence: what, who, when. */
export function brokenWords(broken: Broken, sheet: SheetData, time: FarmTime): string {
  const names = broken.block_ids.flatMap((id) => sheet.blocks.find((b) => b.id === id)?.name ?? []);
  const when = whenWords(broken.slots, sheet, time);
  return t("runsheet.brokenLine", {
    what: WORDS[broken.rule](broken.name),
    who: names.join(", "),
    when: when && ` · ${when}`,
  });
}
