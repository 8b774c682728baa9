/* An answer and a line of the board for tests, to be changed where the test wants it. */

import type { Answer } from "../answer/types";
import type { BoardRow } from "../board/queries";

export function anAnswer(over: Partial<Answer> = {}): Answer {
  return {
    state: "ok",
    reasons: [],
    confidence: "good",
    stage: "mid season",
    usable_mm: 20,
    deficit_mm: 10,
    surplus_mm: 0,
    sigma_mm: 3,
    used_share: 0.2,
    days_left: { dry: 2, expected: 3, wet: 4 },
    refill_at: "2026-07-17T16:00:00Z",
    start_at: "2026-07-17T14:00:00Z",
    earliest_at: null,
    hold: null,
    hold_until: null,
    taken_chance: 0.2,
    rain_chance: null,
    wait_mm: null,
    drained_mm: 0,
    below_refill_hours: null,
    last_reading_hours: -0.2,
    amount: { net_mm: 20, gross_mm: 27, volume_m3: 1697, hours: 11.4 },
    run: {
      turns: 1,
      turn_hours: 11.4,
      speed_percent: null,
      sets: 1,
      pulses: 1,
      on_hours: null,
      pause_hours: null,
      total_hours: 11.4,
    },
    question: null,
    regime: "above_refill",
    ponded: null,
    ...over,
  };
}

export function aRow(over: Partial<BoardRow> = {}): BoardRow {
  return {
    id: 4,
    name: "Quern Field",
    area_m2: 9e4,
    crop: "Potato",
    system: "drip",
    supply: "",
    irrigator: null,
    decision: null,
    answer: anAnswer(),
    past: [],
    ahead: [],
    sets: [],
    ...over,
  };
}
