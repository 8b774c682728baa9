"""What is held of a block's soil, crop and sensors before it has shown anything.

References
----------
.. [1] Saxton, K. E., Rawls, W. J. (2006), doi:10.2136/sssaj2005.0117.
.. [2] Zhang, Y., Schaap, M. G. (2017), Rosetta 3, doi:10.1016/j.jhydrol.2017.01.004.
.. [3] Campbell, G. S. (1974), Soil Sci. 117:311-314.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.catalogue import Crop
from core.estimate.member import FACTORS
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.site import Site
from core.soil.horizon import LimitMethod
from core.soil.horizon_limits import HorizonLimits
from core.soil.profile import Profile
from core.soil.retention import WILTING_TENSION_KPA, RetentionCurve
from core.soil.rosetta_curve import rosetta_curve

# Depths that stand for layers where no sensor does [mm].
USUAL_DEPTHS_MM = (150.0, 300.0, 500.0, 800.0)
DEEPEST_MM = 1500.0
BELOW_LAST_MM = 125.0  # what a last sensor sees below itself
THINNEST_MM = 80.0
MOST_LAYERS, MOST_SENSORS = 12, 12
# Prior means and spreads of the logarithms of the block's factors, in their order: drainage
# length [m3/m3], use, logged water that arrives, rain, roots, evaporation, exchange between
# layers [mm2/day], shape of the roots and compensation. Working assumptions, no source.
FACTOR_MEAN = np.log([0.02, 1.0, 1.0, 1.0, 1.0, 0.8, 4000.0, 2.0, 1.25])
FACTOR_SD = np.array([0.5, 0.12, 0.10, 0.15, 0.12, 0.5, 1.0, 0.2, 0.1])
# Spread of the logarithm of available water: of a regression's, and the least and most.
LEAST_AVAILABLE_SD, MOST_AVAILABLE_SD, AVAILABLE_SD_SCALE = 0.2, 0.65, 1.3
ONSET_SD = 0.45
# How much of a spread between layers or sensors all of a block have in common.
COMMON = 0.85
# What a sensor reads at full: common to all of a block, and its own [m3/m3].
LEVEL_OWN_SD, LEVEL_LEAST_SD, LEVEL_SCALE = 0.015, 0.015, 0.75
SLOPE_SD, TENSION_SLOPE_SD = 0.05, 0.35
TENSION_LEVEL_SCALE = 0.7
LEVEL_WALK, TENSION_LEVEL_WALK = 0.002, 0.001  # [m3/m3 per day]
# Tension at which a soil loses about 1 mm/day, by its saturated conductivity [mm/h, kPa].
DRAINED_KSAT, DRAINED_KPA = (2.0, 15.0, 60.0), (12.0, 8.0, 5.0)
# Above this conductivity Rosetta's shape no longer helps a tension's content [mm/h].
SHAPE_KSAT, SHAPE_WEIGHT = (20.0, 60.0), (0.5, 0.0)
# Share of the onset of stress by the crop's p; the rest by its tension limit.
BY_P = 0.3
START_MEAN, START_SD, START_OWN_SD = -0.15, 0.3, 0.1  # content less full, in available water


@dataclass(frozen=True)
class BlockGround:
    """Layers, sensors and priors of one block.

    edge_mm : array, shape (layers + 1,) [mm]
    scale : array, shape (layers,), the book's available water [m3/m3]
    wilt : wilting point of the top [m3/m3]
    root_limit_mm : what roots can't pass [mm]
    prior_mean, prior_sd : array, shape (figures,), as a member holds them
    common : array, shape (figures,), share of the spread that a group has in common [-]
    depth_mm : array, shape (sensors,), site after site [mm]
    place, deeper : array of int, shape (sensors,), as `ensemble.follow` wants them
    lags : array of bool; walk_sd : array [m3/m3 per day], shape (sensors,)
    site : array of int, shape (sensors,), which site of the block a sensor belongs to
    column : array of int, shape (sensors,), its column there
    """

    edge_mm: Floats
    scale: Floats
    wilt: float
    root_limit_mm: float
    prior_mean: Floats
    prior_sd: Floats
    common: Floats
    depth_mm: Floats
    place: np.ndarray
    deeper: np.ndarray
    lags: np.ndarray
    walk_sd: Floats
    site: np.ndarray
    column: np.ndarray

    @property
    def layers(self) -> int:
        """How many layers the block is carried in."""
        return self.scale.size

    @property
    def sensors(self) -> int:
        """How many sensors tell of it."""
        return self.depth_mm.size


def layer_edges(depth_mm: ArrayLike, deepest_mm: float = DEEPEST_MM) -> Floats:
    """Boundaries of layers around sensors.

    Parameters
    ----------
    depth_mm : array, shape (sensors,) [mm]
        In any order; those closer than 8 cm share a layer.
    deepest_mm : float [mm]
        Where the last layer ends, unless a sensor lies below.

    Returns
    -------
    array, shape (layers + 1,) [mm]
        From the surface to half the first depth, half-way between neighbours, a little below
        the last, and the soil under it.
    """
    depths: list[float] = []
    for d in sorted(np.asarray(depth_mm, float).tolist()) or list(USUAL_DEPTHS_MM):
        if not depths or d - depths[-1] >= THINNEST_MM:
            depths.append(d)
    while len(depths) > MOST_LAYERS - 2:
        gaps = np.diff(depths)
        depths.pop(int(np.argmin(gaps)) + 1)
    inner = [(a + b) / 2 for a, b in pairwise(depths)]
    last = depths[-1] + BELOW_LAST_MM
    end = max(deepest_mm, last + 2 * BELOW_LAST_MM)
    first = max(depths[0] / 2, 20.0)
    return np.array([0.0, first, *inner, last, end])


def drained_tension(ksat_mm_h: float) -> float:
    """Tension at which a soil still loses about 1 mm/day [kPa]."""
    return float(np.interp(np.log(ksat_mm_h), np.log(DRAINED_KSAT), DRAINED_KPA))


@lru_cache(maxsize=4096)
def _rosetta(sand: float, clay: float) -> RetentionCurve | None:
    try:
        return rosetta_curve(sand, clay)
    except ValueError:
        return None


@dataclass(frozen=True)
class _Soil:
    """A horizon as both regressions have it, gravel taken off [m3/m3]."""

    full: float
    wilt: float
    available_sd: float
    full_sd: float
    campbell_b: float
    ksat_mm_h: float
    full_kpa: float
    gravel: float
    rosetta: RetentionCurve | None

    @property
    def available(self) -> float:
        return self.full - self.wilt

    def content(self, tension_kpa: ArrayLike) -> Floats:
        """Water content at tensions: Campbell's curve [3]_ through full and wilting, and as far
        as the soil drains slowly Rosetta's shape through the same two."""
        tension = np.maximum(np.asarray(tension_kpa, float), 1.5)
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


def _soil_of(limits: HorizonLimits) -> _Soil:
    return _soil(
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
def _soil(
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
) -> _Soil:
    """A horizon's limits; by texture alone two regressions are asked, not one."""
    rosetta = _rosetta(sand, clay)
    if by_regression and rosetta is not None:
        full = 0.5 * (full + float(rosetta.theta_at(full_kpa)) * (1 - gravel))
        wilt = 0.5 * (wilt + float(rosetta.theta_at(WILTING_TENSION_KPA)) * (1 - gravel))
    spread = AVAILABLE_SD_SCALE * sigma_available / max(full - wilt, 0.01)
    return _Soil(
        full=full,
        wilt=wilt,
        available_sd=float(np.clip(spread, LEAST_AVAILABLE_SD, MOST_AVAILABLE_SD)),
        full_sd=sigma_full,
        campbell_b=float(np.log(WILTING_TENSION_KPA / full_kpa) / np.log(full / wilt)),
        ksat_mm_h=ksat_mm_h,
        full_kpa=full_kpa,
        gravel=gravel,
        rosetta=rosetta,
    )


def _onset(soil: _Soil, crop: Crop) -> float:
    """Share of the available water at which the crop begins to suffer, by p and tension [-]."""
    if crop.tension_kpa is None:
        return crop.p
    by_tension = float(np.clip(soil.fall(crop.tension_kpa) / soil.available, 0.05, 1.5))
    return float(np.exp(BY_P * np.log(crop.p) + (1 - BY_P) * np.log(by_tension)))


def _mixed(profile: Profile, top: float, bottom: float, values: Sequence[float]) -> float:
    """Mean of the horizons' values over a layer, by thickness; the last horizon goes on below."""
    ends = np.append(profile.bottom_mm[:-1], np.inf)
    thick = np.clip(np.minimum(bottom, ends) - np.maximum(top, profile.top_mm), 0, None)
    return float(np.average(values, weights=thick))


def block_ground(profile: Profile, crop: Crop, sites: Sequence[Site]) -> BlockGround:
    """Layers, sensors and priors of a block.

    Parameters
    ----------
    profile : Profile
    crop : Crop
    sites : sequence of Site
        Those with sensors in the soil; of more than twelve sensors the first twelve tell.
    """
    soils = [_soil_of(h) for h in profile.limits]
    depth: list[float] = []
    place: list[int] = []
    deeper: list[int] = []
    lags: list[bool] = []
    walk: list[float] = []
    where: list[int] = []
    column: list[int] = []
    level: list[float] = []
    level_sd: list[float] = []
    level_own: list[float] = []
    slope_sd: list[float] = []
    for number, site in enumerate(sites):
        is_tension = kinds()[site.kind].quantity is Quantity.TENSION
        count = min(site.depth_mm.size, MOST_SENSORS - len(depth))
        for k in range(count):
            soil = soils[int(profile.horizon_at(site.depth_mm[k : k + 1])[0])]
            depth.append(float(site.depth_mm[k]))
            place.append(k)
            deeper.append(len(depth) if k + 1 < count else -1)
            lags.append(site.kind is InstrumentKind.GRANULAR_MATRIX)
            where.append(number)
            column.append(k)
            if is_tension:
                full = float(soil.content(drained_tension(soil.ksat_mm_h)))
                level.append(full)
                spread = TENSION_LEVEL_SCALE * full / soil.campbell_b
                level_sd.append(spread)
                level_own.append(0.4 * spread)
                slope_sd.append(TENSION_SLOPE_SD)
                walk.append(TENSION_LEVEL_WALK)
            else:
                own = float(np.hypot(LEVEL_OWN_SD, kinds()[site.kind].theta_sigma / 2))
                level.append(soil.full)
                level_sd.append(
                    float(np.hypot(max(LEVEL_SCALE * soil.full_sd, LEVEL_LEAST_SD), own))
                )
                level_own.append(own)
                slope_sd.append(SLOPE_SD)
                walk.append(LEVEL_WALK)
    edge = layer_edges(depth, max(DEEPEST_MM, min(profile.root_limit_mm, 2000.0)))
    pairs = list(pairwise(edge))

    def by_layer(values: Sequence[float]) -> Floats:
        return np.array([_mixed(profile, a, b, values) for a, b in pairs])

    available = by_layer([s.available for s in soils])
    available_sd = by_layer([s.available_sd for s in soils])
    onset = by_layer([_onset(s, crop) for s in soils])
    layers, sensors = available.size, len(depth)
    none = np.zeros(layers)
    mean = np.concatenate(
        [
            START_MEAN * available,
            np.log(available),
            np.log(np.minimum(onset, 0.95)),
            FACTOR_MEAN,
            level,
            np.zeros(sensors),
        ]
    )
    sd = np.concatenate(
        [
            np.hypot(START_SD, START_OWN_SD) * available,
            available_sd,
            np.full(layers, ONSET_SD),
            FACTOR_SD,
            level_sd,
            slope_sd,
        ]
    )
    level_common = [
        np.sqrt(max(1 - (o / s) ** 2, 0.0)) for o, s in zip(level_own, level_sd, strict=True)
    ]
    common = np.concatenate(
        [
            none + START_SD / np.hypot(START_SD, START_OWN_SD),
            none + COMMON,
            none + COMMON,
            np.zeros(FACTORS),
            level_common,
            np.zeros(sensors),
        ]
    )
    return BlockGround(
        edge_mm=edge,
        scale=available,
        wilt=soils[0].wilt,
        root_limit_mm=profile.root_limit_mm,
        prior_mean=mean,
        prior_sd=sd,
        common=common,
        depth_mm=np.array(depth),
        place=np.array(place, int),
        deeper=np.array(deeper, int),
        lags=np.array(lags, bool),
        walk_sd=np.array(walk),
        site=np.array(where, int),
        column=np.array(column, int),
    )


def draw_members(ground: BlockGround, count: int, seed: int) -> Floats:
    """Members as they stand before the block has shown anything; shape (figures, count).

    Layers and sensors of a block err together in part: each group shares one draw.
    """
    rng = np.random.default_rng(seed)
    layers, sensors = ground.layers, ground.sensors
    groups = np.concatenate(
        [
            np.repeat([0, 1, 2], layers),
            np.full(FACTORS, 3),
            np.full(sensors, 4),
            np.full(sensors, 5),
        ]
    )

    def normal(size: int) -> Floats:
        z = rng.standard_normal((count, size))
        z -= z.mean(axis=0)
        scaled: Floats = z / np.maximum(z.std(axis=0), 1e-9)
        return scaled

    shared = normal(6)[:, groups]
    own = normal(groups.size)
    z = ground.common * shared + np.sqrt(1 - ground.common**2) * own
    members: Floats = (ground.prior_mean + ground.prior_sd * z).T
    return np.ascontiguousarray(members)


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
    for j, h in enumerate(index):
        soil = _soil_of(profile.limits[h])
        t = np.maximum(tension_kpa[:, j], 1.5)
        content[:, j] = soil.content(t)
        slope[:, j] = (soil.content(t / 1.05) - soil.content(t * 1.05)) / (2 * np.log(1.05))
    return content, slope
