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
from core.crop.climate import USUAL_RH_MIN, USUAL_WIND_M_S


@dataclass(frozen=True)
class SurfaceLayer:
    """What does not change from day to day; arrays that broadcast.

    tew_mm, rew_mm : total and readily evaporable water [mm]
    wetted : share of the ground that an irrigation wets [-]
    height_m : of the crop [m]
    under_canopy : bool, whether irrigation wets ground that the crop shades
    wind_m_s, rh_min : of the climate [m/s at 2 m, percent]
    """

    tew_mm: Floats
    rew_mm: Floats
    wetted: Floats
    height_m: Floats
    under_canopy: np.ndarray
    wind_m_s: ArrayLike = USUAL_WIND_M_S
    rh_min: ArrayLike = USUAL_RH_MIN


@dataclass(frozen=True)
class SurfaceDay:
    """One day of the surface layer, arrays that broadcast, in the order that they follow [1]_.

    height_m : of the crop [m]
    wind_m_s, rh_min : of the climate [m/s at 2 m, percent]
    highest : Kc max, cover : fc, exposed : few, reduction : Kr, ke [-]
    wetted : fw, share of the ground that the last water wetted [-]
    shaded : bool, whether that lies below the crop
    start_mm, depleted_mm : evaporated from the wet bare part of the top soil, at the start of
        the day with its water in, and after the day [mm]
    """

    height_m: Floats
    wind_m_s: Floats
    rh_min: Floats
    highest: Floats
    cover: Floats
    wetted: Floats
    shaded: np.ndarray
    exposed: Floats
    start_mm: Floats
    reduction: Floats
    ke: Floats
    depleted_mm: Floats


def surface_day(
    depleted_mm: ArrayLike,
    layer: SurfaceLayer,
    kcb: ArrayLike,
    et0_mm: ArrayLike,
    rain_mm: ArrayLike,
    irrigation_mm: ArrayLike,
    rained_last: ArrayLike = True,
) -> SurfaceDay:
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
    SurfaceDay
        The layer's water beyond full drains into the root zone [1]_.
    """
    rain, given = np.asarray(rain_mm, float), np.asarray(irrigation_mm, float)
    by_rain = np.asarray(rained_last, bool)
    wetted = np.where(by_rain, 1.0, layer.wetted)
    highest = kc_max(kcb, layer.height_m, layer.wind_m_s, layer.rh_min)
    cover = cover_of(kcb, highest, layer.height_m)
    shaded = ~by_rain & layer.under_canopy
    exposed = exposed_wet(cover, wetted, shaded)
    start = np.maximum(np.asarray(depleted_mm, float) - rain - given / layer.wetted, 0.0)
    reduction = evaporation_reduction(start, layer.tew_mm, layer.rew_mm)
    ke = evaporation_coefficient(reduction, highest, kcb, exposed)
    after = np.clip(start + ke * np.asarray(et0_mm, float) / exposed, 0.0, layer.tew_mm)
    return SurfaceDay(
        height_m=layer.height_m,
        wind_m_s=np.broadcast_to(layer.wind_m_s, np.shape(highest)),
        rh_min=np.broadcast_to(layer.rh_min, np.shape(highest)),
        highest=highest,
        cover=cover,
        wetted=wetted,
        shaded=shaded,
        exposed=exposed,
        start_mm=start,
        reduction=reduction,
        ke=ke,
        depleted_mm=after,
    )
