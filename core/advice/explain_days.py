"""The day tables of the working: the balance behind now, and the expected case ahead."""

import numpy as np

from core.advice.decide import SHOWN_DAYS, Decisions
from core.advice.explain_readings import nearest_as_read
from core.advice.working import BalanceRow, DayRow
from core.estimate.forcing import Steps
from core.state.estimate_from import ESTIMATES_FROM, EstimateFrom

BALANCE_DAYS = 10


def balance_rows(d: Decisions, row: int = 0) -> tuple[BalanceRow, ...]:
    """The last days of the balance, oldest first, from where the state became known."""
    g, t = d.gathered, d.track
    days = g.past_days
    first = max(days - BALANCE_DAYS, int(np.argmax(t.known[row])))
    if ESTIMATES_FROM[int(g.estimate_from[row])] is EstimateFrom.SENSORS:
        hours = (np.arange(days) - days) * 24.0
        observed = g.observed.depletion_mm[row, :days]
    else:
        steps = Steps.before(g.hour_of_day, days)
        hours = steps.end[steps.nearest(days)][:days]
        observed = np.full(days, np.nan)
        observed[first:] = nearest_as_read(g, hours[first:], slice(first, days), row)
    out = []
    for k in range(first, days):
        seen = float(observed[k])
        out.append(
            BalanceRow(
                day=k - days,
                hours=float(hours[k]),
                forecast_mm=float(t.forecast_mm[row, k]),
                observed_mm=None if np.isnan(seen) else seen,
                gain=float(t.weight[row, k]),
                corrected_mm=float(t.correction_mm[row, k]),
                depletion_mm=float(t.depletion_mm[row, k]),
                sigma_mm=float(t.sigma_mm[row, k]),
                water_in_mm=float(t.water_in_mm[row, k]),
                et0_mm=float(g.et0_past_mm[row, k]),
                recorded=bool(g.recorded[row, k]),
                kc=float(g.kc[row, k]),
                use_factor=float(t.use_factor[row, k]),
                ks=float(t.ks[row, k]),
                et_mm=float(t.et_mm[row, k]),
                drained_mm=float(t.drained_mm[row, k]),
                runoff_mm=float(t.runoff_mm[row, k]),
                new_soil_mm=float(t.grew_mm[row, k]),
            )
        )
    return tuple(out)


def day_rows(d: Decisions, row: int = 0) -> tuple[DayRow, ...]:
    """The expected case day by day, to the day after refill or for ten days."""
    g, ahead, days_left = d.gathered, d.expected, float(d.days_left[row])
    last = int(days_left) + 1 if np.isfinite(days_left) else SHOWN_DAYS
    now, days = g.past_days, ahead.et_mm.shape[2]
    rows = []
    for k in range(min(max(last, 1), days - 1) + 1):
        rows.append(
            DayRow(
                day=k,
                kc=float(g.kc[row, now + k]),
                et0_mm=float(d.expected_et0_mm[k]),
                ks=float(ahead.ks[row, 0, k]),
                etc_mm=float(ahead.et_mm[row, 0, k]),
                bare_mm=float(g.surface.bare_mm[row, now + k]),
                water_in_mm=float(ahead.water_mm[row, 0, k]),
                drained_mm=float(ahead.drained_mm[row, 0, k]),
                new_soil_mm=float(ahead.new_soil_mm[row, 0, k]),
                p=float(ahead.raw_mm[row, 0, k] / g.zones.taw_mm[row, now + k]),
                taw_mm=float(g.zones.taw_mm[row, now + k]),
                raw_mm=float(ahead.raw_mm[row, 0, k]),
                deficit_mm=float(ahead.depletion_mm[row, 0, k]),
                usable_mm=float(d.usable_mm[row, k]),
                chance_past=float(d.chance_past[row, k]) if k <= SHOWN_DAYS else None,
            )
        )
    return tuple(rows)
