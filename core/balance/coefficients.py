"""Coefficients of evaporation from a wet surface under a crop.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, chapter 7.
"""

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.climate import climate_term
from core.soil.texture import TextureClass

SURFACE_MM = 100.0  # soil that dries by evaporation, 0.10-0.15 m [1]_
KC_BARE = 0.15  # Kc min: dry bare soil [1]_

# Readily evaporable water [mm], middle of the ranges of table 19 of [1]_ (from memory); the
# classes it does not list take their neighbours'.
REW_MM: dict[TextureClass, float] = {
    TextureClass.SAND: 7.0,
    TextureClass.LOAMY_SAND: 8.0,
    TextureClass.SANDY_LOAM: 8.0,
    TextureClass.LOAM: 9.0,
    TextureClass.SILT_LOAM: 9.5,
    TextureClass.SILT: 9.5,
    TextureClass.SANDY_CLAY_LOAM: 9.0,
    TextureClass.CLAY_LOAM: 9.5,
    TextureClass.SILTY_CLAY_LOAM: 9.5,
    TextureClass.SANDY_CLAY: 10.0,
    TextureClass.SILTY_CLAY: 10.0,
    TextureClass.CLAY: 10.0,
}


def kc_max(
    kcb: ArrayLike,
    height_m: ArrayLike,
    wind_m_s: ArrayLike,
    rh_min: ArrayLike,
) -> Floats:
    """Highest Kc a wet cropped surface can have on the grass reference, eq. 72 of [1]_ [-]."""
    return np.maximum(1.2 + climate_term(wind_m_s, rh_min, height_m), np.asarray(kcb, float) + 0.05)


def cover_of(kcb: ArrayLike, highest: ArrayLike, height_m: ArrayLike) -> Floats:
    """Share of the ground that the crop covers, from its Kcb, eq. 76 of [1]_ [-]."""
    above = np.maximum(np.asarray(kcb, float) - KC_BARE, 0.01)
    span = np.maximum(np.asarray(highest, float) - KC_BARE, 0.01)
    return np.clip((above / span) ** (1 + 0.5 * np.asarray(height_m, float)), 0, 0.99)


def exposed_wet(cover: ArrayLike, wetted: ArrayLike, under_canopy: ArrayLike = False) -> Floats:
    """Share of the ground that is both wet and bare, eq. 75 of [1]_ [-].

    Where the water was let out below the crop, ``under_canopy``, the crop shades two thirds of
    its cover's share of the wet ground: then fw (1 - 2/3 fc) takes the place of fw ([1]_, table 20
    and the note to eq. 75).
    """
    covered = np.asarray(cover, float)
    wet = np.asarray(wetted, float) * np.where(under_canopy, 1 - 2 / 3 * covered, 1.0)
    return np.clip(np.minimum(1 - covered, wet), 0.01, 1)


def total_evaporable_mm(theta_full: ArrayLike, theta_wilt: ArrayLike) -> Floats:
    """TEW: water that evaporation can take from the top 0.1 m, eq. 73 of [1]_ [mm]."""
    full, wilt = np.asarray(theta_full, float), np.asarray(theta_wilt, float)
    return (full - 0.5 * wilt) * SURFACE_MM


def evaporation_reduction(depleted_mm: ArrayLike, tew_mm: ArrayLike, rew_mm: ArrayLike) -> Floats:
    """Kr: 1 until REW is gone, then straight to 0 at TEW, eq. 74 of [1]_ [-]."""
    tew, rew = np.asarray(tew_mm, float), np.asarray(rew_mm, float)
    span = np.maximum(tew - rew, 1e-9)
    return np.clip((tew - np.asarray(depleted_mm, float)) / span, 0, 1)


def evaporation_coefficient(
    reduction: ArrayLike, highest: ArrayLike, kcb: ArrayLike, exposed: ArrayLike
) -> Floats:
    """Ke, bound by the energy that falls on the wet bare ground, eq. 71 of [1]_ [-]."""
    top = np.asarray(highest, float)
    by_water = np.asarray(reduction, float) * (top - np.asarray(kcb, float))
    return np.maximum(np.minimum(by_water, np.asarray(exposed, float) * top), 0)
