import { useEffect } from "react";

export type Theme = "system" | "light" | "dark";

/** Puts the theme's class on the page; "system" follows the machine as it changes. */
export function useTheme(theme: Theme): void {
  useEffect(() => {
    const machine = window.matchMedia("(prefers-color-scheme: dark)");
    function apply() {
      const dark = theme === "dark" || (theme === "system" && machine.matches);
      document.documentElement.classList.toggle("dark", dark);
      document.documentElement.classList.toggle("light", !dark);
      document.documentElement.style.colorScheme = dark ? "dark" : "light";
    }
    apply();
    machine.addEventListener("change", apply);
    return () => machine.removeEventListener("change", apply);
  }, [theme]);
}
