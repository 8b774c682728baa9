"""What each sensor fell on dry days beyond what its nights lose: what roots and sun took."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from core.arrays import Bools, Floats
from core.events.draining import night_slopes
from core.events.event import SETTLES_H, WettingEvent
from core.events.noise import NIGHT_FROM, NIGHT_TO
from core.events.record import SiteRecord
from core.quality.climbs import DAY_HOURS

# Readings of so much of the nights on either side are taken together: a single one has its noise
# [h].
NIGHT_PART_H = 3.0
HALF_NIGHT_H = ((NIGHT_TO - NIGHT_FROM) % DAY_HOURS) / 2
# Nights further apart have a day between them that was not read [h].
NEXT_NIGHT_H = 1.25 * DAY_HOURS


def daily_falls(
    record: SiteRecord,
    events: Sequence[WettingEvent],
    *,
    nights: int = 1,
    waits_hours: float = 0.0,
) -> tuple[Floats, Floats]:
    """What each sensor fell by day beyond the rate of the nights around it, newest day last.

    Parameters
    ----------
    record : SiteRecord
    events : sequence of WettingEvent
        Of the site.
    nights : int
        So many nights before and after a day, of the same dry spell, tell what the soil loses by
        itself.
    waits_hours : float [h]
        Days that begin sooner after a wetting was at its height are left out.

    Returns
    -------
    ends : array, shape (days,) [h from now]
        When each day's light ends.
    falls : array, shape (days, sensors) [m3/m3]
        NaN where a sensor was silent. Days that are read whole, with a night on either side, and on
        which no water came.
    """
    site = record.site
    none: Floats = np.empty((0, site.depth_mm.size))
    if site.hours.size < 2:
        return np.empty(0), none
    middle, fall = night_slopes(site.hours, record.night, record.theta)
    came = np.sort([e.wetting.before_hours for e in events])
    height = np.array([max(a.peak_hours for a in e.wetting.answers) for e in events])
    wet = np.array([_wetted(events, m - HALF_NIGHT_H, m + HALF_NIGHT_H) for m in middle], bool)
    spell = np.searchsorted(came, middle)
    ends, out = [], []
    for k, (before, after) in enumerate(pairwise(middle.tolist())):
        # From the end of one night to the beginning of the next.
        first, last = before + HALF_NIGHT_H, after - HALF_NIGHT_H
        if after - before > NEXT_NIGHT_H or _wetted(events, first, last):
            continue
        if ((height < first) & (height > first - waits_hours)).any():
            continue
        around = np.arange(max(k + 1 - nights, 0), min(k + 1 + nights, middle.size))
        around = around[_tells(around, wet, spell, int(np.searchsorted(came, first)))]
        if not around.size:
            continue
        by_day = _mean(record, first - NIGHT_PART_H, first)
        by_day = by_day - _mean(record, last, _dry_until(events, last, last + NIGHT_PART_H))
        by_night = fall[around].mean(axis=0) * (last - first + NIGHT_PART_H) / DAY_HOURS
        ends.append(last)
        out.append(by_day - by_night)
    return np.array(ends), np.array(out) if out else none


def _tells(nights: np.ndarray, wet: Bools, spell: np.ndarray, own: int) -> Bools:
    """Which nights tell what the soil loses by itself: dry ones of the day's own dry spell."""
    out: Bools = ~wet[nights] & (spell[nights] == own)
    return out


def _mean(record: SiteRecord, first: float, last: float) -> Floats:
    """Mean of each sensor's readings between two moments, both counted; the last one before them
    where there are none; (sensors,)."""
    begin, end = record.row_at(first - 1e-3) + 1, record.row_at(last) + 1
    if end <= begin:
        return record.theta[max(end - 1, 0)]
    out: Floats = record.theta[begin:end].mean(axis=0)
    return out


def _dry_until(events: Sequence[WettingEvent], first: float, last: float) -> float:
    """When water came between two moments, else the later one."""
    came = [e.wetting.before_hours for e in events]
    return min([h for h in came if first <= h <= last], default=last)


def _wetted(events: Sequence[WettingEvent], first: float, last: float) -> bool:
    """Whether water came or still spread out between two moments."""
    return any(
        e.wetting.before_hours < last
        and max(a.after_hours for a in e.wetting.answers) + SETTLES_H > first
        for e in events
    )
