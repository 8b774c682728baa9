import { useSyncExternalStore } from "react";

const PAGE = () => document.documentElement;

function subscribe(changed: () => void) {
  const watch = new MutationObserver(changed);
  watch.observe(PAGE(), { attributes: true, attributeFilter: ["class"] });
  return () => watch.disconnect();
}

/** The page's theme as it is shown: for what is painted in its colours and not styled by them. */
export function useThemeClass(): "light" | "dark" {
  return useSyncExternalStore(subscribe, () =>
    PAGE().classList.contains("dark") ? "dark" : "light",
  );
}
