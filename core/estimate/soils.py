"""A horizon's water as both regressions and both curves have it, for what a tension means.

References
----------
.. [1] Saxton, K. E., Rawls, W. J. (2006), doi:10.2136/sssaj2005.0117.
.. [2] Zhang, Y., Schaap, M. G. (2017), Rosetta 3, doi:10.1016/j.jhydrol.2017.01.004.
.. [3] Campbell, G. S. (1974), Soil Sci. 117:311-314.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.drainage import drained_tension
from core.soil.horizon import LimitMethod
from core.soil.horizon_limits import HorizonLimits
from core.soil.profile import Profile
from core.soil.retention import WILTING_TENSION_KPA, RetentionCurve
from core.soil.rosetta_curve import rosetta_curve

# Spread of the logarithm of available water: of a regression's, and the least and most.
LEAST_AVAILABLE_SD, MOST_AVAILABLE_SD, AVAILABLE_SD_SCALE = 0.2, 0.65, 1.3
# No tension is read as wetter than this [kPa]; a slope is taken over so much either side of one.
LEAST_KPA, SLOPE_STEP = 1.5, 1.05
# Above this conductivity Rosetta's shape no longer helps a tension's content [mm/h].
SHAPE_KSAT, SHAPE_WEIGHT = (20.0, 60.0), (0.5, 0.0)


@lru_cache(maxsize=4096)
def _rosetta(sand: float, clay: float) -> RetentionCurve | None:
    try:
        return rosetta_curve(sand, clay)
    except ValueError:
        return None


@dataclass(frozen=True)
class TwoCurves:
    """A horizon as both regressions have it, gravel taken off [m3/m3]."""

    full: float
    wilt: float
    available_sd: float
    full_sd: float
    campbell_b: float
    ksat_mm_h: float
    full_kpa: float
    gravel: float
    sand: float
    clay: float

    @property
    def rosetta(self) -> RetentionCurve | None:
        """Rosetta's curve of its texture; None outside of what it was fitted to."""
        return _rosetta(self.sand, self.clay)

    @property
    def available(self) -> float:
        return self.full - self.wilt

    def content(self, tension_kpa: ArrayLike) -> Floats:
        """Water content at tensions: Campbell's curve [3]_ through full and wilting, and as far
        as the soil drains slowly Rosetta's shape through the same two."""
        tension = np.maximum(np.asarray(tension_kpa, float), LEAST_KPA / SLOPE_STEP)
        power = self.full * (self.full_kpa / tension) ** (1 / self.campbell_b)
        weight = self._shape_weight
        if self.rosetta is None or weight == 0:
            return power
        wet = float(self.rosetta.theta_at(self.full_kpa))
        dry = float(self.rosetta.theta_at(WILTING_TENSION_KPA))
        share = (self.rosetta.theta_at(tension) - dry) / (wet - dry)
        out: Floats = (1 - weight) * power + weight * (self.wilt + share * self.available)
        return out

    @property
    def _shape_weight(self) -> float:
        return float(np.interp(np.log(self.ksat_mm_h), np.log(SHAPE_KSAT), SHAPE_WEIGHT))

    def fall(self, tension_kpa: float) -> float:
        """What the soil loses from drained to a tension: the mean of the two curves [m3/m3]."""
        begin = drained_tension(self.ksat_mm_h)

        def power(t: float) -> float:
            return float(self.full * (self.full_kpa / t) ** (1 / self.campbell_b))

        by_campbell = max(power(begin) - power(tension_kpa), 1e-3)
        if self.rosetta is None:
            return by_campbell
        wet = float(self.rosetta.theta_at(begin))
        fell = (wet - float(self.rosetta.theta_at(tension_kpa))) * (1 - self.gravel)
        return float(np.sqrt(by_campbell * max(fell, 1e-3)))


def two_curves(limits: HorizonLimits) -> TwoCurves:
    """A horizon's limits; by texture alone two regressions are asked, not one."""
    return _made(
        limits.sand,
        limits.clay,
        limits.method is LimitMethod.REGRESSION,
        limits.theta_full,
        limits.theta_wilt,
        limits.sigma_full,
        limits.sigma_available,
        limits.full_tension_kpa,
        limits.gravel,
        limits.ksat_mm_h,
    )


@lru_cache(maxsize=4096)
def _made(
    sand: float,
    clay: float,
    by_regression: bool,
    full: float,
    wilt: float,
    sigma_full: float,
    sigma_available: float,
    full_kpa: float,
    gravel: float,
    ksat_mm_h: float,
) -> TwoCurves:
    rosetta = _rosetta(sand, clay)
    if by_regression and rosetta is not None:
        full = 0.5 * (full + float(rosetta.theta_at(full_kpa)) * (1 - gravel))
        wilt = 0.5 * (wilt + float(rosetta.theta_at(WILTING_TENSION_KPA)) * (1 - gravel))
    spread = AVAILABLE_SD_SCALE * sigma_available / max(full - wilt, 0.01)
    return TwoCurves(
        full=full,
        wilt=wilt,
        available_sd=float(np.clip(spread, LEAST_AVAILABLE_SD, MOST_AVAILABLE_SD)),
        full_sd=sigma_full,
        campbell_b=float(np.log(WILTING_TENSION_KPA / full_kpa) / np.log(full / wilt)),
        ksat_mm_h=ksat_mm_h,
        full_kpa=full_kpa,
        gravel=gravel,
        sand=sand,
        clay=clay,
    )


def tension_content(
    profile: Profile, depth_mm: Floats, tension_kpa: Floats
) -> tuple[Floats, Floats]:
    """Tensions as water content, and how much it moves for a tension's logarithm.

    Parameters
    ----------
    profile : Profile
    depth_mm : array, shape (sensors,) [mm]
    tension_kpa : array, shape (times, sensors) [kPa]

    Returns
    -------
    tuple of arrays, shape (times, sensors)
        Content [m3/m3] and its slope [m3/m3 per unit of the logarithm], above zero.
    """
    index = profile.horizon_at(depth_mm)
    content, slope = np.full(tension_kpa.shape, np.nan), np.full(tension_kpa.shape, np.nan)
    # The tension itself, and a little wetter and drier for the slope.
    beside = np.array([1.0, 1 / SLOPE_STEP, SLOPE_STEP])[:, None]
    for j, h in enumerate(index):
        at = np.maximum(tension_kpa[:, j], LEAST_KPA) * beside
        content[:, j], wetter, drier = two_curves(profile.limits[h]).content(at)
        slope[:, j] = (wetter - drier) / (2 * np.log(SLOPE_STEP))
    return content, slope
