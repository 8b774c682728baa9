"""Which irrigations and rain a wetting came from."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.events.wettings import CLOCK_SLIP_H, Wetting
from core.quality.climbs import ARRIVES_MM_PER_DAY, DAY_HOURS, SURFACE_MM

# Water still on its way to the first sensor is told from new water by its end [h].
STILL_COMING_H = 6.0
# What is logged may be off by so much, as a share of it: a set by its hours or meter, rain by a
# gauge that stands elsewhere (working assumptions, no source).
IRRIGATION_SIGMA, RAIN_SIGMA = 0.08, 0.15


@dataclass(frozen=True)
class Supply:
    """An irrigation as it ran, or a rain: when [h], and what reached the ground of the field [mm].

    Where ``hour_known`` is False it came at some time between, as rain of which only the day is
    recorded.
    """

    start_hours: float
    end_hours: float
    mm: float
    is_rain: bool = False
    hour_known: bool = True

    @property
    def sigma_mm(self) -> float:
        """Spread of the depth [mm]."""
        return self.mm * (RAIN_SIGMA if self.is_rain else IRRIGATION_SIGMA)


def supplies_of(
    wettings: Sequence[Wetting], depth_mm: Sequence[float], supplies: Sequence[Supply]
) -> list[list[int]]:
    """Of each wetting the places of its supplies; empty where nothing was logged.

    Parameters
    ----------
    wettings : sequence of Wetting
        Of one site, by arrival.
    depth_mm : sequence of float [mm]
    supplies : sequence of Supply

    Notes
    -----
    A supply belongs to the first wetting that began after it did, its clock allowed to be an hour
    wrong, and no later than it could have come down to the sensor that answered first: a day, and
    another for each 20 cm below 10 cm. What came while the first sensor of a wetting was still
    getting wetter adds to that one, if no new one began soon. What came at an unknown hour of a
    day explains the first wetting of that day that nothing else does. Of several that could have
    brought a wetting, those that ran within six hours before it did; where none did, the last one.
    """
    found: list[list[int]] = [[] for _ in wettings]
    begins = np.array([w.after_hours for w in wettings])
    order = sorted(range(len(supplies)), key=lambda k: supplies[k].start_hours)
    for k in sorted(order, key=lambda k: not supplies[k].hour_known):
        s = supplies[k]
        if not s.hour_known and (alone := _without_supply(s, wettings, found)) is not None:
            found[alone].append(k)
            continue
        at = int(np.searchsorted(begins, s.start_hours - CLOCK_SLIP_H, "left"))
        soon = at < len(wettings) and wettings[at].before_hours <= s.end_hours + STILL_COMING_H
        under_way = at > 0 and s.start_hours <= wettings[at - 1].answers[0].peak_hours
        if under_way and not soon:
            found[at - 1].append(k)
        elif at < len(wettings) and _could_come(s, wettings[at], depth_mm):
            found[at].append(k)
    return [_nearest(w, rows, supplies) for w, rows in zip(wettings, found, strict=True)]


def _without_supply(
    supply: Supply, wettings: Sequence[Wetting], found: list[list[int]]
) -> int | None:
    """The first wetting in the time of a supply that nothing else brought."""
    for n, wetting in enumerate(wettings):
        begins = wetting.after_hours
        in_time = supply.start_hours - CLOCK_SLIP_H <= begins <= supply.end_hours + STILL_COMING_H
        if in_time and not found[n]:
            return n
    return None


def _could_come(supply: Supply, wetting: Wetting, depth_mm: Sequence[float]) -> bool:
    """Whether water so long on its way may have reached the first sensor that answered."""
    deeper = max(depth_mm[wetting.answers[0].sensor] - SURFACE_MM, 0.0)
    allowed = DAY_HOURS * (1 + deeper / ARRIVES_MM_PER_DAY)
    return wetting.before_hours <= supply.end_hours + allowed


def _nearest(wetting: Wetting, rows: list[int], supplies: Sequence[Supply]) -> list[int]:
    """Those that ran up to the wetting, or into it; else the last one alone."""
    ran = [k for k in rows if supplies[k].end_hours >= wetting.before_hours - STILL_COMING_H]
    return ran or rows[-1:]
