"""How much of a day's rain reaches the root zone.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 8: rain below 0.2 ET0 is usually evaporated
   entirely and need not be counted.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats

RAIN_HOURS = 4.0  # over how long a day's rain falls where only its sum is known; no source


@dataclass(frozen=True)
class EffectiveRain:
    """Arrays of one shape: rain that enters the soil, and what runs off it [mm/day]."""

    infiltrated_mm: Floats
    runoff_mm: Floats


def effective_rain(
    rain_mm: ArrayLike, et0_mm: ArrayLike, intake_mm_h: ArrayLike = np.inf
) -> EffectiveRain:
    """Rain of a day that counts, by a stated rule.

    Parameters
    ----------
    rain_mm, et0_mm : array, broadcastable [mm/day]
    intake_mm_h : array, broadcastable [mm/h]
        What the soil takes in; infinity where it always keeps up.

    Returns
    -------
    EffectiveRain
        Nothing of a rain below 0.2 ET0 [1]_; of any other what the soil takes in during four
        hours (working assumption), the rest runs off.

    Raises
    ------
    ValueError
        When rain is negative.
    """
    rain, et0 = np.broadcast_arrays(np.asarray(rain_mm, float), np.asarray(et0_mm, float))
    if np.any(rain < 0):
        raise ValueError("rain can't be negative")
    counts = np.where(rain < 0.2 * et0, 0.0, rain)
    taken = np.minimum(counts, np.asarray(intake_mm_h, float) * RAIN_HOURS)
    return EffectiveRain(infiltrated_mm=taken, runoff_mm=counts - taken)
