"""A water table below a block: what rises from it, and what the soil above it never drains of.

References
----------
.. [1] Gardner, W. R. (1958), Some steady-state solutions of the unsaturated moisture flow
   equation, Soil Sci. 85:228-232: the height that a flux q reaches is the integral of
   ``dh / (1 + q / K(h))``. With class means for K what rises is known within a factor of
   several only: other descriptions of the same textures let more rise.
.. [2] Campbell, G. S. (1974), Soil Sci. 117:311-314.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.conductivity import Conductivity, class_conductivity
from core.soil.drainage import drained_tension
from core.soil.horizon_limits import HorizonLimits
from core.soil.profile import Profile
from core.soil.retention import WILTING_TENSION_KPA
from core.soil.texture import TextureClass

KPA_PER_MM = 9.81e-3  # of a column of water
LEAST_ROOT_MM = 100.0  # roots that stand in water keep to the top (common practice, no source)
DEEPEST_TABLE_MM = 10_000.0
# Tables and roots this near to each other give the same; and the slices of a root zone [mm].
STEP_MM, SLICE_MM = 20.0, 20.0
_FLUXES = np.geomspace(1e-3, 1e3, 241)  # mm/day, between which what rises is read off
_TENSIONS = np.geomspace(1e-3, WILTING_TENSION_KPA, 400)  # kPa


@dataclass(frozen=True)
class WaterTable:
    """Depth of the table below the surface by day.

    first : the day of the first depth; the last one holds for all days after it
    depth_mm : array (days,) [mm]; infinity where it is not known
    source : who says so
    """

    first: date
    depth_mm: Floats
    source: str

    def on(self, first: date, days: int) -> Floats:
        """Depths of days from one on; array (days,) [mm]."""
        at = np.arange(days) + (first - self.first).days
        known = self.depth_mm[np.clip(at, 0, self.depth_mm.size - 1)]
        return np.where(at < 0, np.inf, known)


def capillary_rise(profile: Profile, root_mm: float, table_mm: float) -> float:
    """The most that rises from a table to the lower end of the roots in a day [mm].

    Parameters
    ----------
    profile : Profile
        Its last horizon goes on below.
    root_mm, table_mm : float [mm]

    Returns
    -------
    float [mm/day]
        The steady flux [1]_ through the horizons between, with the roots' end as dry as wilting;
        0 where the table is deeper than 10 m, no end to it (1000 mm/day) where it meets the roots.
    """
    if not table_mm < DEEPEST_TABLE_MM:
        return 0.0
    bottom, table = (round(x / STEP_MM) * STEP_MM for x in (root_mm, table_mm))
    if table <= bottom:
        return float(_FLUXES[-1])
    crossed = _crossed(profile, bottom, table)
    return _steady_rise(crossed)


def root_bound_mm(tables: Sequence[WaterTable | None], first: date, days: int) -> Floats:
    """What no root grows into on days from one on, infinity without one; (blocks, days) [mm]."""
    none = np.full(days, np.inf)
    depth = [none if t is None else np.maximum(t.on(first, days), LEAST_ROOT_MM) for t in tables]
    return np.array(depth)


def _crossed(
    profile: Profile, bottom_mm: float, table_mm: float
) -> tuple[tuple[float, TextureClass], ...]:
    """Thickness and texture of each horizon from the table up to the roots."""
    ends = np.append(profile.bottom_mm[:-1], np.inf)
    thick = np.minimum(ends, table_mm) - np.maximum(profile.top_mm, bottom_mm)
    between = [(float(t), h.texture) for h, t in zip(profile.limits, thick, strict=True) if t > 0]
    return tuple(reversed(between))


@lru_cache(maxsize=4096)
def _steady_rise(crossed: tuple[tuple[float, TextureClass], ...]) -> float:
    """The largest flux that a path from the table up just carries [mm/day]."""
    tension = np.full(_FLUXES.size, _TENSIONS[0])
    for thick, texture in crossed:
        tension = _tension_above(tension, thick, class_conductivity()[texture])
    carries = np.flatnonzero(tension < WILTING_TENSION_KPA)
    return float(_FLUXES[carries[-1]]) if carries.size else 0.0


def _tension_above(below_kpa: Floats, thick_mm: float, soil: Conductivity) -> Floats:
    """Tension at the top of a layer for each flux, from that at its foot; wilting where the layer
    can't carry it [1]_."""
    with np.errstate(over="ignore"):
        slope = 1 / (1 + _FLUXES[:, None] / np.maximum(soil.at(_TENSIONS), 1e-30))
    steps = np.diff(_TENSIONS) / KPA_PER_MM
    height = np.cumsum(0.5 * (slope[:, 1:] + slope[:, :-1]) * steps, axis=1)
    height = np.concatenate([np.zeros((_FLUXES.size, 1)), height], axis=1)
    out = np.empty(_FLUXES.size)
    for k, at in enumerate(below_kpa):
        reached = np.interp(at, _TENSIONS, height[k]) + thick_mm
        wilts = at >= WILTING_TENSION_KPA or reached >= height[k, -1]
        out[k] = WILTING_TENSION_KPA if wilts else np.interp(reached, height[k], _TENSIONS)
    return out


def held_above_full(soil: HorizonLimits, depth_mm: ArrayLike, table_mm: ArrayLike) -> Floats:
    """Water above full that soil over a table never drains of [m3/m3].

    Parameters
    ----------
    soil : HorizonLimits
    depth_mm, table_mm : array, broadcastable [mm]

    Returns
    -------
    array, broadcast shape
        In balance with the table the tension is the height above it; where that is less than
        the one at which a soil has drained, the soil stays wetter than full, up to saturation.
    """
    height = np.asarray(table_mm, float) - np.asarray(depth_mm, float)
    tension = np.maximum(height * KPA_PER_MM, 1e-3)
    fell = max(soil.theta_full / max(soil.theta_wilt, 1e-3), 1.01)
    b = float(np.log(WILTING_TENSION_KPA / soil.full_tension_kpa) / np.log(fell))  # [2]_
    wetter = (drained_tension(soil.ksat_mm_h) / tension) ** (1 / b) - 1
    room = soil.theta_sat - soil.theta_full
    return np.clip(soil.theta_full * wetter, 0.0, room)


def held_over_table_mm(profile: Profile, root_mm: float, table_mm: float) -> float:
    """Water above full that a table never lets drain out of a root zone [mm]."""
    depth = np.arange(SLICE_MM / 2, root_mm, SLICE_MM)
    at = profile.horizon_at(depth)
    held = np.zeros(depth.size)
    for k in np.unique(at):
        held[at == k] = held_above_full(profile.limits[k], depth[at == k], table_mm)
    return float(held.sum() * SLICE_MM)
