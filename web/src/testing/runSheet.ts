/* A small run sheet for tests. */

import type { SheetData, SheetSet } from "../runsheet/queries";

const FIRST = Date.UTC(2026, 6, 13, 22);
const starts = Array.from({ length: 120 }, (_, k) => new Date(FIRST + k * 7_200_000).toISOString());
const money = {
  lacking_mm: 0,
  lost: 12,
  power: 8,
  water: 3,
  labour: 9,
  later: 20,
  changes: 0,
  total: 52,
  energy_kwh: 60,
  drawn_m3: 400,
};

export function aSet(over: Partial<SheetSet>): SheetSet {
  const start = over.start ?? 10;
  const hours = over.hours ?? 5;
  const from = new Date(starts[start] ?? FIRST);
  return {
    id: 1,
    block_id: 7,
    start,
    slots: 3,
    pulses: 1,
    pause_hours: 0,
    starts_at: from.toISOString(),
    ends_at: new Date(from.getTime() + hours * 3_600_000).toISOString(),
    hours,
    net_mm: 15,
    gross_mm: 20,
    volume_m3: 400,
    pinned: false,
    status: "draft",
    irrigation_id: null,
    ...over,
  };
}

const block = {
  machine: null,
  flow_m3_h: 80,
  smallest_mm: 8,
  largest_mm: 40,
  held: [],
  windy: [],
  irrigator: "Tam Orrowby",
  money,
};
const totals = {
  total: 104,
  lost: 24,
  power: 16,
  water: 6,
  labour: 18,
  peak: 0,
  energy_kwh: 120,
  drawn_m3: 800,
};

export function aSheet(over: Partial<SheetData>): SheetData {
  return {
    id: 1,
    made_at: "2026-07-14T04:10:00Z",
    first_at: starts[0] ?? "",
    edit: 1,
    can_undo: false,
    changed_by: null,
    changed_at: "2026-07-14T04:10:00Z",
    currency: "€",
    value_assumed: false,
    starts,
    nights: [],
    late_starts: [],
    people: starts.map(() => 2),
    sources: [
      {
        name: "North bore",
        flow_m3_h: 120,
        limited: true,
        closed: [],
        price_kwh: starts.map((_, k) => (k % 12 < 3 ? 0.12 : 0.21)),
        peak_price: 0,
        peak_so_far_kw: 0,
      },
      {
        name: "Hill tank",
        flow_m3_h: 60,
        limited: false,
        closed: [3, 4, 9],
        price_kwh: starts.map(() => 0),
        peak_price: 0,
        peak_so_far_kw: 0,
      },
    ],
    machines: ["Portable pump"],
    wind_m_s: starts.map((_, k) => (k === 7 ? 5.2 : 1.5)),
    blocks: [
      { ...block, id: 7, name: "Quern Field", source: 0 },
      { ...block, id: 8, name: "Wick Terrace", source: 1, machine: 0, irrigator: null },
    ],
    left_out: [],
    sets: [aSet({})],
    standing: [],
    broken: [],
    short: [],
    totals,
    outcome: {
      format: 1,
      method: "search",
      cost: 104,
      bound: 102,
      by_urgency_total: 130,
      by_urgency_power: 22,
      by_urgency_lost: 30,
      total: 104,
      reliefs: [],
    },
    ...over,
  };
}
