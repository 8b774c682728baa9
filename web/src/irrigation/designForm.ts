import { forForm, typed, type UnitSystem } from "../units/format";
import { FIGURES, type DesignForm, type SystemKind } from "./designs";

/** Figures as typed, for the server, and as they `was`; null where nothing is typed. */
export function designIn(
  kind: SystemKind,
  form: DesignForm,
  units: UnitSystem,
  was?: Record<string, number | null>,
): Record<string, number | null> {
  const figures = FIGURES[kind];
  return Object.fromEntries(
    figures.map((f) => {
      const text = form[f.name] ?? "";
      const plain = typed(text, "metric", "water");
      const value = f.as
        ? typed(text, units, f.as, was?.[f.name])
        : plain === null
          ? null
          : plain * (f.size ?? 1);
      return [f.name, value === null ? null : Number(value.toPrecision(12))];
    }),
  );
}

/** Whether any figure is typed at all. */
export function hasDesign(kind: SystemKind, form: DesignForm): boolean {
  return FIGURES[kind].some((f) => (form[f.name] ?? "").trim() !== "");
}

export function designForm(
  kind: SystemKind,
  design: Record<string, number | null> | undefined,
  units: UnitSystem,
): DesignForm {
  return Object.fromEntries(
    FIGURES[kind].map((f) => {
      const value = design?.[f.name];
      if (value === null || value === undefined) return [f.name, ""];
      return [
        f.name,
        f.as ? forForm(value, units, f.as) : String(Number((value / (f.size ?? 1)).toPrecision(6))),
      ];
    }),
  );
}
