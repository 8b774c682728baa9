"""What weather, crop and people did to blocks, step by step from six to six."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats
from core.estimate.ensemble import FORCES
from core.estimate.member import BARE_KC, LEAST_BARE
from core.state.daylight import used_by

MORNING_H = 6.0
STEP_H = 12.0
# A last piece of a step that is shorter than this is none [h].
SHORTEST_H = 0.25


@dataclass(frozen=True)
class Steps:
    """Steps of half a day that end at six and at eighteen, the last one now.

    start, end : array, shape (steps,) [h from now, at most 0]
    morning : array of bool, whether a step ends at six in the morning
    day : array of int, column of the calendar day in which each begins
    light : array, share of that day's use [-]
    """

    start: Floats
    end: Floats
    morning: np.ndarray
    day: np.ndarray
    light: Floats

    @classmethod
    def before(cls, hour_of_day: float, days: int) -> "Steps":
        """The steps from six in the morning ``days`` days before today until now.

        Parameters
        ----------
        hour_of_day : float [h]
            Of now, by the farm's clock.
        days : int
            Column 0 is the day that many days back, column ``days`` is today.
        """
        first = -24.0 * days - hour_of_day + MORNING_H
        edges = np.arange(first, -SHORTEST_H, STEP_H)
        edges = np.append(edges, 0.0) if edges.size else np.array([first, 0.0])
        start, end = edges[:-1], edges[1:]
        # The night belongs to the day before it, whose last light it has.
        day = np.floor((start + hour_of_day + 0.01) / 24).astype(int)
        clock = np.mod(end + hour_of_day, 24)
        light = _used(end + hour_of_day) - _used(start + hour_of_day)
        return cls(start, end, np.abs(clock - MORNING_H) < 0.5, day + days, light)

    def nearest(self, days: int) -> np.ndarray:
        """The steps whose ends lie nearest to now's hour, from ``days`` days ago to now."""
        target = (np.arange(days + 1) - days) * 24.0
        at: np.ndarray = np.abs(self.end[None, :] - target[:, None]).argmin(axis=1)
        return at

    @property
    def count(self) -> int:
        """How many steps there are."""
        return self.start.size


def _used(hours: Floats) -> Floats:
    """Days' worth of use since today's midnight up to an hour counted from it."""
    day = np.floor(hours / 24)
    out: Floats = day + used_by(hours - 24 * day)
    return out


@dataclass(frozen=True)
class Below:
    """What lies below the roots of blocks by calendar day, arrays (blocks, days).

    rise_mm : capillary rise over the watered strip [mm/day]; root_bound_mm : what roots can't
    pass; table_mm : depth of the water table, infinity without one [mm]
    """

    rise_mm: Floats
    root_bound_mm: Floats
    table_mm: Floats


@dataclass(frozen=True)
class Daily:
    """Crops and weather of blocks by calendar day, arrays (blocks, days).

    kcb [-], et0_mm [mm/day], root_mm [mm]; p_factor : on the share that the crop bears [-];
    wetted : share of the ground that is wet after water came [-]; strip : array (blocks,), share
    of the ground that is watered: what the crop uses of the whole comes out of it [-];
    use_sigma : how far a day's use may stray, as a share of it [-]; begins : array (blocks, days)
    of bool, whether a season of the crop begins on the day
    """

    kcb: Floats
    et0_mm: Floats
    root_mm: Floats
    p_factor: Floats
    wetted: Floats
    strip: Floats
    use_sigma: Floats
    begins: Bools

    def force(self, steps: Steps, below: Below) -> Floats:
        """The forcing of each step, array (blocks, steps, FORCES), as `ensemble.follow` wants it.

        Parameters
        ----------
        steps : Steps
        below : Below
        """
        at = steps.day
        length = (steps.end - steps.start) / 24
        et0 = self.et0_mm[:, at] * steps.light
        kcb = self.kcb[:, at]
        out = np.empty((kcb.shape[0], steps.count, FORCES))
        out[..., 0] = length
        out[..., 1] = kcb * et0 / self.strip[:, None]
        out[..., 2] = np.maximum(LEAST_BARE, BARE_KC - kcb) * self.wetted[:, at] * et0
        out[..., 3] = below.rise_mm[:, at] * length
        out[..., 4] = self.root_mm[:, at]
        out[..., 5] = below.root_bound_mm[:, at]
        out[..., 6] = self.p_factor[:, at]
        out[..., 7] = self.use_sigma[:, at]
        out[..., 8] = below.table_mm[:, at]
        # The first step of a day ends in its evening.
        out[..., 9] = self.begins[:, at] & ~steps.morning
        return out
