"""What is held of a block's soil, crop and sensors before it has shown anything."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from hashlib import sha256
from itertools import pairwise

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.catalogue import Crop
from core.estimate.member import DRAINED_AT, FACTORS, FULL, HOLDS, MOST_OUT, POWER, ROOM
from core.estimate.soils import TwoCurves, two_curves
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.site import Site
from core.soil.drainage import drained_tension, held_up
from core.soil.profile import Profile

# Depths that stand for layers where no sensor does [mm].
USUAL_DEPTHS_MM = (150.0, 300.0, 500.0, 800.0)
DEEPEST_MM = 1500.0
BELOW_LAST_MM = 125.0  # what a last sensor sees below itself
THINNEST_MM = 80.0
MOST_LAYERS, MOST_SENSORS = 12, 12
# Prior means and spreads of the logarithms of the block's factors, in their order: drainage
# length [m3/m3], use, logged water that arrives, rain, roots, evaporation, exchange between
# layers [mm2/day], shape of the roots and compensation. Working assumptions, no source.
FACTOR_MEAN = np.log([0.02, 1.0, 1.0, 1.0, 1.0, 0.65, 4000.0, 2.0, 1.25])
FACTOR_SD = np.array([0.5, 0.12, 0.10, 0.15, 0.12, 0.4, 1.0, 0.2, 0.1])
ONSET_SD = 0.45
# How much of a spread between layers or sensors all of a block have in common.
COMMON = 0.85
# And between horizons of different soils, of what layers of one have in common.
ACROSS_HORIZONS = 0.25
# What a sensor reads at full: common to all of a block, and its own [m3/m3].
LEAST_ROOM = 0.02  # between full and saturation [m3/m3]; else water would never be held up
LEVEL_OWN_SD, LEVEL_LEAST_SD, LEVEL_SCALE = 0.015, 0.015, 0.75
SLOPE_SD, TENSION_SLOPE_SD = 0.05, 0.35
TENSION_LEVEL_SCALE = 0.7
LEVEL_WALK, TENSION_LEVEL_WALK = 0.002, 0.001  # [m3/m3 per day]
# Share of the onset of stress by the crop's p; the rest by its tension limit.
BY_P = 0.3
START_MEAN, START_SD, START_OWN_SD = -0.15, 0.3, 0.1  # content less full, in available water


@dataclass(frozen=True)
class BlockGround:
    """Layers, sensors and priors of one block.

    edge_mm : array, shape (layers + 1,) [mm]
    scale : array, shape (layers,), the book's available water [m3/m3]
    hold : array, shape (layers, HOLDS), what holds water up, see `member`
    wilt : wilting point of the top [m3/m3]
    root_limit_mm : what roots can't pass [mm]
    prior_mean, prior_sd : array, shape (figures,), as a member holds them
    common : array, shape (figures,), share of the spread that a group has in common [-]
    soil : array of int, shape (layers + sensors,), which of the block's soils each lies in
    depth_mm : array, shape (sensors,), site after site [mm]
    place, deeper : array of int, shape (sensors,), as `ensemble.follow` wants them
    lags : array of bool; walk_sd : array [m3/m3 per day], shape (sensors,)
    site : array of int, shape (sensors,), which site of the block a sensor belongs to
    column : array of int, shape (sensors,), its column there
    """

    edge_mm: Floats
    scale: Floats
    hold: Floats
    wilt: float
    root_limit_mm: float
    prior_mean: Floats
    prior_sd: Floats
    common: Floats
    soil: np.ndarray
    depth_mm: Floats
    place: np.ndarray
    deeper: np.ndarray
    lags: np.ndarray
    walk_sd: Floats
    site: np.ndarray
    column: np.ndarray

    @cached_property
    def name(self) -> bytes:
        """What tells this ground from another: 16 bytes of its figures."""
        parts = (self.edge_mm, self.prior_mean, self.prior_sd, self.depth_mm)
        return sha256(b"".join(p.tobytes() for p in parts)).digest()[:16]

    @property
    def layers(self) -> int:
        """How many layers the block is carried in."""
        return self.scale.size

    @property
    def sensors(self) -> int:
        """How many sensors tell of it."""
        return self.depth_mm.size


def layer_edges(
    depth_mm: ArrayLike, deepest_mm: float = DEEPEST_MM, boundary_mm: Sequence[float] = ()
) -> Floats:
    """Boundaries of layers around sensors.

    Parameters
    ----------
    depth_mm : array, shape (sensors,) [mm]
        In any order; those closer than 8 cm share a layer.
    deepest_mm : float [mm]
        Where the last layer ends, unless a sensor lies below.
    boundary_mm : sequence of float [mm]
        Where one soil ends and another begins: a layer ends there rather than half-way.

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
    inner = [_edge(a, b, (a + b) / 2, boundary_mm) for a, b in pairwise(depths)]
    last = depths[-1] + BELOW_LAST_MM
    end = max(deepest_mm, last + 2 * BELOW_LAST_MM)
    last = _edge(depths[-1], end - BELOW_LAST_MM, last, boundary_mm)
    first = max(depths[0] / 2, 20.0)
    return np.array([0.0, first, *inner, last, end])


@lru_cache(maxsize=4096)
def onset_share(soil: TwoCurves, p: float, tension_kpa: float | None) -> float:
    """Share of the available water at which a crop begins to suffer, by p and tension [-]."""
    if tension_kpa is None:
        return p
    by_tension = float(np.clip(soil.fall(tension_kpa) / soil.available, 0.05, 1.5))
    return float(np.exp(BY_P * np.log(p) + (1 - BY_P) * np.log(by_tension)))


def _edge(upper_mm: float, lower_mm: float, usual_mm: float, boundary_mm: Sequence[float]) -> float:
    """Where a layer ends between two depths: at the soil's boundary nearest to where it would."""
    least = THINNEST_MM / 2
    inside = [b for b in boundary_mm if upper_mm + least <= b <= lower_mm - least]
    return min(inside, key=lambda b: abs(b - usual_mm), default=usual_mm)


def _boundaries(profile: Profile, soils: Sequence[TwoCurves]) -> list[float]:
    """Depths at which a horizon of another soil begins [mm]."""
    pairs = zip(profile.top_mm[1:].tolist(), pairwise(soils), strict=True)
    return [top for top, (above, below) in pairs if above != below]


def _shares(profile: Profile, edge_mm: Floats) -> Floats:
    """Share of each layer that lies in each horizon, the last of which goes on below; (layers,
    horizons)."""
    ends = np.append(profile.bottom_mm[:-1], np.inf)
    top, bottom = edge_mm[:-1, None], edge_mm[1:, None]
    thick = np.clip(np.minimum(bottom, ends) - np.maximum(top, profile.top_mm), 0, None)
    out: Floats = thick / thick.sum(axis=1, keepdims=True)
    return out


def _hold(profile: Profile, edge_mm: Floats) -> Floats:
    """What holds water up in each layer, by the horizon at its middle; (layers, HOLDS)."""
    out = np.empty((edge_mm.size - 1, HOLDS))
    out[:, MOST_OUT] = held_up(profile, edge_mm)
    middle = 0.5 * (edge_mm[:-1] + edge_mm[1:])
    for j, h in enumerate(profile.horizon_at(middle)):
        soil, limits = two_curves(profile.limits[h]), profile.limits[h]
        out[j, ROOM] = max(limits.theta_sat - soil.full, LEAST_ROOM)
        out[j, FULL], out[j, POWER] = soil.full, 1 / soil.campbell_b
        out[j, DRAINED_AT] = drained_tension(limits.ksat_mm_h)
    return out


def block_ground(profile: Profile, crop: Crop, sites: Sequence[Site]) -> BlockGround:
    """Layers, sensors and priors of a block.

    Parameters
    ----------
    profile : Profile
    crop : Crop
    sites : sequence of Site
        Those with sensors in the soil; of more than twelve sensors the first twelve tell.
    """
    soils = [two_curves(h) for h in profile.limits]
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
                own = float(np.hypot(LEVEL_OWN_SD, site.theta_sigma / 2))
                level.append(soil.full)
                level_sd.append(
                    float(np.hypot(max(LEVEL_SCALE * soil.full_sd, LEVEL_LEAST_SD), own))
                )
                level_own.append(own)
                slope_sd.append(SLOPE_SD)
                walk.append(LEVEL_WALK)
    deepest = max(DEEPEST_MM, min(profile.root_limit_mm, 2000.0))
    edge = layer_edges(depth, deepest, _boundaries(profile, soils))
    of_soils = np.array(
        [(s.available, s.available_sd, onset_share(s, crop.p, crop.tension_kpa)) for s in soils]
    )
    shares = _shares(profile, edge)
    available, available_sd, onset = (shares @ of_soils).T
    kinds_of_soil = {soil: k for k, soil in enumerate(dict.fromkeys(soils))}
    kind = np.array([kinds_of_soil[s] for s in soils])
    kind_of = np.concatenate([kind[shares.argmax(axis=1)], kind[profile.horizon_at(depth)]])
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
        hold=_hold(profile, edge),
        wilt=soils[0].wilt,
        root_limit_mm=profile.root_limit_mm,
        prior_mean=mean,
        prior_sd=sd,
        common=common,
        soil=kind_of.astype(int),
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
    if ground.soil.size and ground.soil.max() > 0:
        # What one horizon has wrong another need not: they share a part of it only.
        of_layers, of_sensors = ground.soil[:layers], ground.soil[layers:]
        none = np.zeros(layers, int)
        within = np.concatenate(
            [none, of_layers, of_layers, np.zeros(FACTORS, int), of_sensors, of_sensors]
        )
        apart = normal(6 * (int(ground.soil.max()) + 1))[:, groups + 6 * within]
        across = np.where(np.isin(groups, (1, 2, 4)), ACROSS_HORIZONS, 1.0)
        shared = np.sqrt(across) * shared + np.sqrt(1 - across) * apart
    own = normal(groups.size)
    z = ground.common * shared + np.sqrt(1 - ground.common**2) * own
    members: Floats = (ground.prior_mean + ground.prior_sd * z).T
    return np.ascontiguousarray(members)
