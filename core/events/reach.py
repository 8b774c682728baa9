"""How deep a wetting went."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.events.noise import LEAST_RISE, Measure
from core.events.wettings import Wetting


@dataclass(frozen=True)
class Reach:
    """Depth that water reached [mm]: best guess, and the range it lies in.

    ``high_mm`` is infinite where the deepest sensor answered: it went on below.
    """

    mm: float
    low_mm: float
    high_mm: float

    @property
    def beyond_sensors(self) -> bool:
        """Whether it passed the deepest sensor that was read."""
        return bool(np.isinf(self.high_mm))


def reach_of(wetting: Wetting, depth_mm: Floats, rise: Floats, seen: np.ndarray) -> Reach:
    """How deep a wetting went.

    Parameters
    ----------
    depth_mm : array, shape (sensors,), rising [mm]
    rise : array, shape (sensors,) [m3/m3]
        Of each sensor from before the water came to its wettest reading after.
    seen : array of bool, shape (sensors,)
        Whether a sensor was read and trusted while it could have answered.

    Notes
    -----
    At least to the deepest sensor that answered, or that rose as much without any hour in which
    it did, and not to the next one that did not. Between them by how much it rose beside the one
    above it: water that fills a layer goes on, water that hardly moves it ends there.
    """
    deepest = max(a.sensor for a in wetting.answers)
    below = [k for k in range(deepest + 1, depth_mm.size) if seen[k]]
    while below and rise[below[0]] >= LEAST_RISE[Measure.THETA]:
        deepest = below.pop(0)
    low = float(depth_mm[deepest])
    if not below:
        return Reach(low, low, float("inf"))
    high = float(depth_mm[below[0]])
    above = [a.sensor for a in wetting.answers if a.sensor < deepest]
    beside = float(rise[max(above)]) if above else float(rise[deepest])
    share = min(float(rise[deepest]) / beside, 1.0) if beside > 0 else 0.5
    return Reach(low + 0.5 * share * (high - low), low, high)


def front_mm_h(wetting: Wetting, depth_mm: Floats) -> tuple[float, float, float]:
    """Speed of the front from the first to the deepest sensor: least, likely, most [mm/h].

    NaN where fewer than two depths answered in order; most is infinite where they may have
    answered at once.
    """
    first = wetting.answers[0]
    last = max(wetting.answers, key=lambda a: a.sensor)
    way = float(depth_mm[last.sensor] - depth_mm[first.sensor])
    if way <= 0:
        return (float("nan"),) * 3
    slow = last.after_hours - first.before_hours
    fast = last.before_hours - first.after_hours
    middle = (slow + fast) / 2
    return (
        way / slow,
        way / middle if middle > 0 else float("inf"),
        (way / fast if fast > 0 else float("inf")),
    )
