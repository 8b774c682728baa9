import type { Layout, Preview, Sensor } from "./queries";

/** What a column is used for: nothing, a part of the layout, or a sensor by its channel. */
export type Role = "" | "time" | "clock" | "value" | "key" | `sensor:${number}`;

export function roleOf(layout: Layout, column: number): Role {
  if (layout.time_column === column) return "time";
  if (layout.time_of_day_column === column) return "clock";
  if (layout.shape === "long") {
    if (layout.value_column === column) return "value";
    return layout.key_columns.includes(column) ? "key" : "";
  }
  const use = layout.columns.find((c) => c.column === column);
  return use ? `sensor:${use.channel_id}` : "";
}

/** The layout with a column put to another use; what held that use before is let go. */
export function withRole(layout: Layout, column: number, role: Role, sensors: Sensor[]): Layout {
  const next: Layout = {
    ...layout,
    columns: layout.columns.filter((c) => c.column !== column),
    key_columns: layout.key_columns.filter((c) => c !== column),
    value_column: layout.value_column === column ? null : layout.value_column,
    time_of_day_column: layout.time_of_day_column === column ? null : layout.time_of_day_column,
  };
  if (role === "time") return { ...next, time_column: column };
  if (role === "clock") return { ...next, time_of_day_column: column };
  if (role === "value") return { ...next, value_column: column };
  if (role === "key") {
    // The names are made of other columns now: what they were given to no longer holds.
    return {
      ...next,
      key_columns: [...next.key_columns, column].toSorted((a, b) => a - b),
      keys: [],
    };
  }
  if (role === "") return next;
  const channel = Number(role.slice("sensor:".length));
  const sensor = sensors.find((s) => s.channel_id === channel);
  const before = layout.columns.find((c) => c.column === column);
  const unit =
    sensor?.units.find((u) => u === before?.unit) ??
    layout.columns.map((c) => c.unit).find((u) => sensor?.units.includes(u)) ??
    sensor?.units[0];
  if (!unit) return next;
  const kept = next.columns.filter((c) => c.channel_id !== channel);
  return { ...next, columns: [...kept, { column, channel_id: channel, unit }] };
}

export function withUnit(layout: Layout, column: number, unit: Sensor["units"][number]): Layout {
  return {
    ...layout,
    columns: layout.columns.map((c) => (c.column === column ? { ...c, unit } : c)),
  };
}

/** The layout with a name of the file given to a sensor; 0 leaves it out. */
export function withKey(layout: Layout, key: string, channel: number, sensors: Sensor[]): Layout {
  const rest = layout.keys.filter((k) => k.key !== key);
  const sensor = sensors.find((s) => s.channel_id === channel);
  const unit =
    layout.keys.map((k) => k.unit).find((u) => sensor?.units.includes(u)) ?? sensor?.units[0];
  if (!sensor || !unit) return { ...layout, keys: rest };
  return { ...layout, keys: [...rest, { key, channel_id: channel, unit }] };
}

/** Refused cells of the shown rows, by line and by what their column is called. */
export function refusedAt(preview: Preview): Map<string, string> {
  return new Map(preview.refused.map((r) => [`${r.row}|${r.column}`, r.reason]));
}

/** "A", "B" … as spreadsheets call their columns. */
export function letter(column: number): string {
  const first = Math.floor(column / 26);
  return (
    (first > 0 ? String.fromCodePoint(64 + first) : "") + String.fromCodePoint(65 + (column % 26))
  );
}
