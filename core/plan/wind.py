"""When it is too windy to irrigate a block."""

import numpy as np

from core.arrays import Bools, Floats
from core.irrigation.system import SystemKind
from core.plan.slots import SLOT_H, SLOTS

# Systems that throw water through the air: wind carries it off and spoils its spread. Their
# limit is the farm's own; about 4 to 5 m/s is common practice, no source.
THROWN = frozenset(
    {SystemKind.PIVOT, SystemKind.LINEAR, SystemKind.TRAVELLER, SystemKind.SOLID_SET}
)


def slot_wind(wind_m_s: Floats, first_h: float) -> Floats:
    """The strongest hour of each slot [m/s], NaN where nothing is known of it; shape (slots,).

    Parameters
    ----------
    wind_m_s : array, shape (hours,) [m/s]
        By hour; NaN is not known.
    first_h : float [h]
        When the first of those hours begins, since the midnight at which the plan does.
    """
    hours = round(SLOT_H)
    known = np.full(SLOTS * hours, np.nan)
    at = np.arange(wind_m_s.size) + round(first_h)
    inside = (at >= 0) & (at < known.size)
    known[at[inside]] = wind_m_s[inside]
    by_slot = known.reshape(SLOTS, hours)
    nothing = np.isnan(by_slot).all(axis=1)
    strongest: Floats = np.where(nothing, np.nan, np.nanmax(np.nan_to_num(by_slot, nan=-1), axis=1))
    return strongest


def windy_slots(strongest_m_s: Floats, most_m_s: float | None) -> Bools:
    """Slots in which wind is above a limit; none without one, and none of those of which nothing is
    known.

    Parameters
    ----------
    strongest_m_s : array, shape (slots,) [m/s]
        See `slot_wind`.
    most_m_s : float or None [m/s]
        The most at which a block may be irrigated.
    """
    if most_m_s is None:
        return np.zeros(SLOTS, dtype=bool)
    above: Bools = np.nan_to_num(strongest_m_s, nan=0.0) > most_m_s
    return above
