"""Blocks whose crop has enough water until it is over."""

import numpy as np

from core.advice.days_ahead import planned_by_day
from core.advice.gather import Gathered
from core.advice.members_need import members_need
from core.arrays import Bools, Floats
from core.finish.last_irrigation import TOO_LITTLE_MM, LeftOfSeason, lacking_mm
from core.state.track import Track

# In so many of the members the crop is not to run short (as on the page of a block, see
# `server.advice.finish_api`).
FINISH_CHANCE = 0.9


def enough_to_the_end(
    g: Gathered, found: Track, member_depletion_mm: Floats, over_days: Floats
) -> Bools:
    """Whether what is in the roots, and rain that is forecast, lasts until the crop is over; array
    (blocks,). All of the available water counts as usable then.

    Parameters
    ----------
    member_depletion_mm : array, shape (blocks, CASES), now
    over_days : array, shape (blocks,), until the crop is over; infinity beyond the outlook
    """
    out = np.zeros(len(g.blocks), bool)
    rows = np.flatnonzero(np.isfinite(over_days) & (over_days > 0))
    if not rows.size:
        return out
    days = int(over_days[rows].max())
    use, water = members_need(g, found, days)
    planned = planned_by_day(g)
    for k in rows.tolist():
        n = int(over_days[k])
        taw, raw = (float(x[k, g.past_days]) for x in (g.zones.taw_mm, g.zones.raw_mm))
        left = LeftOfSeason(
            available_mm=taw - np.maximum(member_depletion_mm[k], 0.0),
            taw_mm=taw,
            raw_mm=raw,
            reserve_mm=0.0,
            use_mm=use[k, :, :n],
            rain_mm=water[k, :, :n] + planned[k, :n],
            smallest_mm=0.0,
            largest_mm=taw,
        )
        out[k] = lacking_mm(left, FINISH_CHANCE) <= TOO_LITTLE_MM
    return out
