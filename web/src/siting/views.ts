import { CLASSES, ZONES } from "./paint";
import type { RasterData, Siting } from "./queries";
import { t } from "./t";
import { KINDS, YEAR_KINDS } from "./words";

export interface View {
  key: string;
  label: string;
  data: RasterData | null;
  /** The colours of classes where the raster is of classes. */
  classes: readonly string[] | null;
  of: "value" | "stability" | "zones" | "soils" | "score" | "mean";
  unit: string;
}

/** What the plan can show, the most told first. */
export function viewsOf(siting: Siting): View[] {
  const views: View[] = [];
  const add = (view: Omit<View, "classes" | "unit"> & Partial<View>) => {
    if (view.data) views.push({ classes: null, unit: "", ...view });
  };
  add({ key: "score", label: t("siting.score"), data: siting.score, of: "score" });
  add({
    key: "zones",
    label: t("siting.zones"),
    data: siting.zone_raster,
    of: "zones",
    classes: ZONES,
  });
  add({
    key: "soils",
    label: t("siting.soilZones"),
    data: siting.soil_raster,
    of: "soils",
    classes: ZONES,
  });
  if (siting.years > 1) {
    add({
      key: "stability",
      label: t("siting.viewStability"),
      data: siting.stability,
      of: "stability",
      classes: CLASSES,
    });
    add({
      key: "mean",
      label: t("siting.viewMean", { count: siting.years }),
      data: siting.mean,
      of: "mean",
      unit: "%",
    });
  }
  for (const layer of siting.layers) {
    const kind = layer.year_kind ? `, ${YEAR_KINDS[layer.year_kind]}` : "";
    add({
      key: `layer-${layer.id}`,
      label: `${layer.name} (${KINDS[layer.kind]}${kind})`,
      data: layer.raster,
      of: "value",
      unit: layer.unit,
    });
  }
  return views;
}
