"""The top of the soil, which dries by evaporation: the dual coefficient's own small store.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 7, eq. 71-79.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.balance.coefficients import (
    cover_of,
    evaporation_coefficient,
    evaporation_reduction,
    exposed_wet,
    kc_max,
)


@dataclass(frozen=True)
class SurfaceLayer:
    """What does not change from day to day; arrays that broadcast.

    tew_mm, rew_mm : total and readily evaporable water [mm]
    wetted : share of the ground that an irrigation wets [-]
    height_m : of the crop [m]
    """

    tew_mm: Floats
    rew_mm: Floats
    wetted: Floats
    height_m: Floats


@dataclass(frozen=True)
class Evaporation:
    """ke [-]; depleted_mm : evaporated from the top soil of the wet bare part, after the day."""

    ke: Floats
    depleted_mm: Floats


def evaporation_day(
    depleted_mm: ArrayLike,
    layer: SurfaceLayer,
    kcb: ArrayLike,
    et0_mm: ArrayLike,
    rain_mm: ArrayLike,
    irrigation_mm: ArrayLike,
    rained_last: ArrayLike = True,
) -> Evaporation:
    """Evaporation coefficient of a day and the surface layer after it.

    Parameters
    ----------
    depleted_mm : array [mm]
        At the start of the day.
    layer : SurfaceLayer
    kcb : array [-]
    et0_mm : array [mm/day], grass reference
    rain_mm, irrigation_mm : array [mm/day]
        That entered; both early in the day.
    rained_last : array of bool
        Whether rain wetted the surface last: then the whole ground is wet, else the part
        that the irrigation wets.

    Returns
    -------
    Evaporation
        The layer's water beyond full drains into the root zone [1]_.
    """
    rain, given = np.asarray(rain_mm, float), np.asarray(irrigation_mm, float)
    wetted = np.where(np.asarray(rained_last, bool), 1.0, layer.wetted)
    highest = kc_max(kcb, layer.height_m)
    exposed = exposed_wet(cover_of(kcb, highest, layer.height_m), wetted)
    start = np.maximum(np.asarray(depleted_mm, float) - rain - given / layer.wetted, 0.0)
    reduction = evaporation_reduction(start, layer.tew_mm, layer.rew_mm)
    ke = evaporation_coefficient(reduction, highest, kcb, exposed)
    after = np.clip(start + ke * np.asarray(et0_mm, float) / exposed, 0.0, layer.tew_mm)
    return Evaporation(ke=ke, depleted_mm=after)
