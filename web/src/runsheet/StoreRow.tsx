import { area } from "d3-shape";
import { ink } from "../theme/system";
import { figure, measure, type UnitSystem } from "../units/format";
import type { PlotScale } from "./plotScale";
import type { Store } from "./queries";
import { t } from "./t";

interface Props {
  store: Store;
  name: string;
  scale: PlotScale;
  y: number;
  units: UnitSystem;
}

export const STORE_HEIGHT = 84;
const SLOTS_A_STEP = 3;

/** The chosen block's usable water with the irrigations of the sheet: above its refill line, and
 * below it as a dry bed. */
export function StoreRow({ store, name, scale, y, units }: Props) {
  const begin = Math.ceil(scale.from / SLOTS_A_STEP);
  const end = Math.min(store.middle_mm.length, scale.to / SLOTS_A_STEP + 1);
  const full = Math.max(...store.raw_mm);
  const lowest = Math.min(0, ...store.low_mm);
  const span = Math.max(full - lowest, 1);
  const at = (mm: number) => y + 8 + ((full - mm) / span) * (STORE_HEIGHT - 14);
  const line = at(0);
  const places = Array.from({ length: Math.max(end - begin, 0) }, (_, k) => begin + k);
  const between = area<number>().x((k) => scale.slotX(k * SLOTS_A_STEP));
  const upTo = (values: number[]) =>
    between.y0(line).y1((k) => Math.min(at(values[k] ?? 0), line))(places) ?? "";
  const under = (values: number[]) =>
    between.y0(line).y1((k) => Math.max(at(values[k] ?? 0), line))(places) ?? "";
  const label = measure(units, "water").label;
  return (
    <g role="img" aria-label={t("runsheet.storeOf", { name })}>
      <path d={upTo(store.high_mm)} fill={ink("waterRim")} />
      <path d={upTo(store.middle_mm)} fill={ink("waterMid")} />
      <path d={upTo(store.low_mm)} fill={ink("water")} />
      <path d={under(store.low_mm)} fill="url(#dry)" />
      <path d={under(store.middle_mm)} fill={ink("rust")} opacity={0.55} />
      <line x1={scale.left} x2={scale.right} y1={line} y2={line} stroke={ink("ink")} />
      <text x={0} y={y + 20} style={{ fontSize: 13.5, fontWeight: 700 }} fill={ink("ink")}>
        {name}
      </text>
      <text x={0} y={y + 36} style={{ fontSize: 11.5 }} fill={ink("inkSoft")}>
        {t("runsheet.aboveRefill")}
      </text>
      <text
        x={scale.left - 8}
        y={y + 16}
        textAnchor="end"
        style={{ fontSize: 11 }}
        fill={ink("ink")}
      >
        {`${figure(full, units, "water", units === "metric" ? 0 : 2)} ${label}`}
      </text>
      <text
        x={scale.left - 8}
        y={line + 4}
        textAnchor="end"
        style={{ fontSize: 11 }}
        fill={ink("ink")}
      >
        {t("runsheet.refill")}
      </text>
    </g>
  );
}
