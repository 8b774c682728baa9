import type { SetChange } from "./queries";
import { t } from "./t";

const WORDS: Record<SetChange["change"], () => string> = {
  new: () => t("runsheet.changeNew"),
  moved: () => t("runsheet.changeMoved"),
  resized: () => t("runsheet.changeResized"),
  removed: () => t("runsheet.changeRemoved"),
};

/** How an irrigation differs from what was there before. */
export function changeWord(change: SetChange["change"]): string {
  return WORDS[change]();
}
