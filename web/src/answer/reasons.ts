/* Why an answer is as it is, in a sentence that says what to do. */

import type { Answer } from "./types";

export const REASONS: Record<Answer["reasons"][number], string> = {
  no_instrument: "No instrument stands in this block. Add one and bring in readings.",
  no_trusted_reading: "No instrument has said anything to be trusted lately. Go and look.",
  no_crop_in_season: "No crop is in the ground today.",
  surfaces_differ:
    "The crop's Kc is for another reference surface than the ET. State the farm's ratio of alfalfa to grass ET, beside the ET on the board.",
  no_et: "No ET is known for the days ahead. State one on the board.",
  sensor_not_trusted: "A sensor is not believed; its neighbours speak for its layer.",
  carried_from_reading:
    "An instrument was read some time ago; the water used since is added to what it said.",
  unseen_below_sensors: "The roots reach below what the deepest sensor sees.",
  sites_disagree: "The instruments disagree by more than their uncertainty; look at both.",
  profile_stops_roots: "The soil is described less deep than the crop roots; the roots stop there.",
  largest_set: "Held to the largest sensible set of this equipment.",
  smallest_set: "Raised to the smallest sensible set of this equipment.",
  surplus_draining: "There is more water than the soil keeps; it will drain first.",
  by_balance_alone: "No instrument has a part in this: the daily balance speaks alone.",
  et_not_recorded: "The ET of some past days was not recorded; the expected one stands in.",
  use_above_book:
    "This crop is estimated to use more water than Kc · ET: check Kc, the area, the application rate",
  use_below_book:
    "This crop is estimated to use less water than Kc · ET: check Kc, the cover, the application rate",
  water_not_logged:
    "Readings show water that is not logged: log it, or look for a leak, or exclude the sensor. Until then the answer is less certain",
  balance_set_back:
    "Sensors and water balance disagree: check the log, the site and the sensors before relying on this",
  set_fell_short:
    "Logged water did not show at the sensors: check valve, emitters and application rate",
  critical_stage: "The crop is in its most sensitive stage: less risk of stress is taken.",
  critical_stage_next: "The crop's most sensitive stage begins within a week.",
  heat_ahead: "The coming days use a fifth more water than the past fortnight.",
  cant_catch_up:
    "The equipment gives less in a day than the crop uses: once behind it stays behind.",
  rain_may_cover:
    "Forecast rain is likely to make this set needless; waiting may be worth its risk.",
  not_worth_a_set_yet: "The soil has hardly room for a worthwhile set yet.",
  drainage_ahead: "Water is expected to drain below the roots in the coming days.",
  enough_to_finish: "The water in the soil is enough to finish the crop.",
  held: "The soil asks for water sooner, but the block is not to be watered until the hold is over.",
  go_before_hold: "Water before the block is closed to it; afterwards would be too late.",
  planned_in_time: "A set is planned in time; what is said here comes on top of it.",
  planned_too_late: "The planned set comes after the block is past refill. Bring it forward.",
  leaching_added: "The set holds extra water that carries salt below the roots.",
  drains_on:
    "Much of the water given in the past fortnight drained below the roots: check the full point, the application rate and the log.",
  given_without_answer:
    "More water was given in the past week than the crop used and its roots can hold. Find out where it goes; until then the amount covers two days only.",
  refill_out_of_reach:
    "The refill point is drier than these sensors can read; the water balance carries the last part. A granular-matrix sensor, a moisture probe or a sensor deeper down would show it.",
  leaching_falls_short:
    "This water is too salty for the crop: leaching is held to 30 % of it, and more than a tenth of the yield may be lost. Use other water, or a crop that stands more salt.",
  due_early:
    "Due before the date of the refill point: the field may be drier than estimated. A reading, or a fresh look at the readings, would narrow it.",
  salt_lowers_use:
    "Salt measured in the soil makes the crop use less water, and lowers its yield; keep the root zone wetter than you would without it.",
  water_table_feeds:
    "A water table near the roots feeds the crop; how much rises is known to within a few times only, so watch the sensors.",
  water_table_in_roots:
    "The water table stands within the usual depth of the roots: they end above it. Drain before you water; more water raises it further.",
  drains_slowly:
    "A slow layer below holds the surplus up for days: give less at a time, and let it drain before the next.",
  would_run_off:
    "Given at one go this would run off: the soil takes in less than falls on it. Give it in pulses where they are shown, or lower the rate.",
  drier_than_sensor_reads:
    "A granular-matrix sensor stands at the dry end of its range: the soil is drier than it can tell.",
  salt_carried_off:
    "Rain and surplus water have carried this season's salt below the roots: no leaching is added.",
  not_worked_out:
    "This block could not be worked out; the fault is recorded. The other blocks stand. Tell whoever runs the service.",
  place_not_known:
    "Water has crossed the block part by part, and where on its way the sensors stand is not known: enter their place on the instrument's page, so that water is credited when it reaches them.",
  machine_takes_long:
    "The irrigation takes long to cross the block: it starts early enough for the last part to get its water in time.",
};
