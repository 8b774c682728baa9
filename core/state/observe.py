"""What the sensors of many blocks say of the root zone, morning by morning."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.instrument.site import Site
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.state.daylight import days_used
from core.state.water_given import WaterGiven
from core.store.combine import combine_sites
from core.store.layers import Layers

# Working assumptions of uncertainty, no source: soil that no sensor speaks for [m3/m3], the
# day-to-day scatter of one sensor's word as a share of its kind's spread against the block, and
# the shares of the water used or given since the reading, and of a surplus still on its way.
UNSEEN_SIGMA = 0.03
SCATTER_SHARE = 0.3
CARRIED_SHARE = 0.15
SURPLUS_SHARE = 0.5
MIN_SCATTER_MM = 1.0
NOTHING_SHORT_MM = 0.5


@dataclass(frozen=True)
class Observed:
    """By block and moment, arrays (blocks, times) [mm]; NaN where no sensor has a word.

    depletion_mm : deficit, or surplus below zero where nothing is short; sites by trust
    surplus_mm : the part above full
    scatter_mm : from day to day
    below_mm : deficit between the roots and the deepest they will reach
    unseen_mm : root zone that no sensor speaks for
    offset_sigma_mm : array (blocks,), how far the sites may lie off the block
    disagree : array (blocks,) of bool, whether sites contradict each other now
    """

    depletion_mm: Floats
    surplus_mm: Floats
    scatter_mm: Floats
    below_mm: Floats
    unseen_mm: Floats
    offset_sigma_mm: Floats
    disagree: np.ndarray


def newest_before(
    sites: Sequence[Site], hours: Floats, window_hours: float
) -> tuple[Floats, Floats]:
    """Each sensor's newest word at or before moments, sites read alike side by side.

    Parameters
    ----------
    sites : sequence of Site, each with as many readings and sensors as the others
    hours : array, shape (times,), rising [h from now]
    window_hours : float [h]
        A word older than this is none.

    Returns
    -------
    theta : array, shape (sites, times, sensors) [m3/m3]
        NaN also where the newest reading, trusted or not, is not the trusted one.
    age : array, shape (sites, times, sensors) [h]
    """
    if not sites[0].hours.size:
        empty = np.full((len(sites), hours.size, sites[0].depth_mm.size), np.nan)
        return empty, empty
    read = np.stack([s.hours for s in sites])
    theta_seen = np.stack([s.theta for s in sites])
    silent = np.isnan(np.stack([s.value for s in sites]))
    rows = np.arange(read.shape[1])[:, None]
    trusted = np.maximum.accumulate(np.where(np.isnan(theta_seen), -1, rows), axis=1)
    seen = np.maximum.accumulate(np.where(silent, -1, rows), axis=1)
    at = np.stack([np.searchsorted(s.hours, hours + 1e-6, side="right") for s in sites]) - 1
    begun, at = at >= 0, np.maximum(at, 0)[:, :, None]
    row = np.take_along_axis(trusted, at, axis=1)
    same = row == np.take_along_axis(seen, at, axis=1)
    row = np.maximum(row, 0) * begun[:, :, None]
    theta = np.take_along_axis(theta_seen, row, axis=1)
    age = hours[:, None] - np.take_along_axis(read[:, :, None], row, axis=1)
    good = begun[:, :, None] & same & (age < window_hours) & ~np.isnan(theta)
    return np.where(good, theta, np.nan), np.where(good, age, np.nan)


@dataclass(frozen=True)
class SitesOfBlocks:
    """The sites of many blocks in one list; ``block`` is the row of each one's block."""

    block: np.ndarray
    sites: tuple[Site, ...]
    profiles: tuple[Profile, ...]

    @classmethod
    def of(cls, sites: Sequence[Sequence[Site]], profiles: Sequence[Profile]) -> "SitesOfBlocks":
        """From the sites and the soil of each block."""
        pairs = [(i, s) for i, many in enumerate(sites) for s in many if s.depth_mm.size]
        return cls(
            block=np.array([i for i, _ in pairs], int),
            sites=tuple(s for _, s in pairs),
            profiles=tuple(profiles[i] for i, _ in pairs),
        )


def _read_alike(sites: Sequence[Site]) -> list[list[int]]:
    """Rows of sites with as many readings and sensors, so that they fit side by side."""
    found: dict[tuple[int, ...], list[int]] = {}
    for i, site in enumerate(sites):
        found.setdefault(site.value.shape, []).append(i)
    return list(found.values())


@dataclass(frozen=True)
class SitesSeen:
    """What each site says of its root zone, arrays (sites, times) [mm]; NaN where it is silent.

    read_mm : the deficit of its layers
    counted_mm : the surplus of others that is counted against it
    carried_mm, watered_mm : used and given between the reading and the moment
    value_mm : the sum of it at the moment
    surplus_mm, unseen_mm, below_mm : above full; root zone out of its sight; deficit below it
    scatter_mm, own_sigma_mm : from day to day; how far the spot may lie off the block
    age_hours : of the oldest word that went in
    """

    block: np.ndarray
    read_mm: Floats
    counted_mm: Floats
    carried_mm: Floats
    watered_mm: Floats
    value_mm: Floats
    surplus_mm: Floats
    unseen_mm: Floats
    below_mm: Floats
    scatter_mm: Floats
    own_sigma_mm: Floats
    age_hours: Floats

    @property
    def weight(self) -> Floats:
        """Trust in each site against the others, not yet adding to one."""
        return np.where(np.isnan(self.value_mm), 0.0, 1 / np.maximum(self.own_sigma_mm, 0.1) ** 2)


def see(
    found: SitesOfBlocks,
    hours: Floats,
    root_mm: Floats,
    deep_mm: Floats,
    used_mm_day: Floats,
    hour_of_day: float,
    given: WaterGiven,
    wetted_share: Floats,
    nets: np.ndarray,
) -> SitesSeen:
    """Each site's word on its root zone at regular moments, one day apart.

    Parameters
    ----------
    found : SitesOfBlocks
    hours : array, shape (times,), rising by 24, the last one 0 [h from now]
    root_mm : array, shape (blocks, times) [mm]
    deep_mm : array, shape (blocks,) [mm]
        The deepest that roots will reach.
    used_mm_day : array, shape (blocks, times) [mm/day]
        Water use of the day that ends at each moment; carries a word from earlier that day.
    hour_of_day : float [h]
        Of now.
    given : WaterGiven
        Which a word before it did not see.
    wetted_share : array, shape (blocks,) [-]
    nets : array of bool, shape (blocks,)
        Whether water above full in one layer counts against what another is short of. To a
        balance it does: it is in the root zone, on its way down, and the crop drinks it. Where
        the sensors speak alone it never hides a dry layer.
    """
    times = hours.size
    most = max((s.depth_mm.size for s in found.sites), default=1)
    depth = np.full((len(found.sites), most), np.nan)
    theta = np.full((len(found.sites), times, most), np.nan)
    age = np.full((len(found.sites), times), np.nan)
    for rows in _read_alike(found.sites):
        alike = [found.sites[i] for i in rows]
        n = alike[0].depth_mm.size
        depth[rows, :n] = [s.depth_mm for s in alike]
        theta[rows, :, :n], ages = newest_before(alike, hours, 24.0)
        oldest = np.nan_to_num(ages, nan=-np.inf).max(axis=2)
        age[rows] = np.where(np.isinf(oldest), np.nan, oldest)
    soils = Profiles.of(found.profiles)
    roots = root_mm[found.block]
    word = Layers(soils, depth, theta)
    seen = word.down_to(roots)
    deep = word.down_to(np.broadcast_to(deep_mm[found.block, None], roots.shape))
    below = np.maximum(deep.deficit_mm - seen.deficit_mm, 0)
    share = wetted_share[found.block, None]
    spread = np.array([s.theta_sigma for s in found.sites], float)[:, None]
    carried = _carried(found, hours, age, used_mm_day, hour_of_day)
    water = given.since(found.block, hours, age)
    read, surplus = seen.deficit_mm * share, seen.surplus_mm * share
    counted = np.where(nets[found.block, None] | (read <= NOTHING_SHORT_MM), surplus, 0.0)
    thick = np.minimum(roots, soils.root_limit_mm[:, None]) * share
    scatter = np.hypot(
        np.maximum(SCATTER_SHARE * spread * thick, MIN_SCATTER_MM),
        CARRIED_SHARE * (np.abs(carried) + water),
    )
    return SitesSeen(
        block=found.block,
        read_mm=read,
        counted_mm=counted,
        carried_mm=carried,
        watered_mm=water,
        value_mm=read - counted + carried - water,
        surplus_mm=surplus,
        unseen_mm=seen.unseen_mm,
        below_mm=below * share,
        # Above full the water is still on its way: its place in the root zone is soon another's.
        scatter_mm=np.hypot(scatter, SURPLUS_SHARE * surplus),
        own_sigma_mm=np.hypot(spread * thick, UNSEEN_SIGMA * np.nan_to_num(seen.unseen_mm) * share),
        age_hours=age,
    )


def _carried(
    found: SitesOfBlocks, hours: Floats, age: Floats, used_mm_day: Floats, hour_of_day: float
) -> Floats:
    """Use between each site's word and the moment; (sites, times) [mm]."""
    days = days_used(hours, hour_of_day) - days_used(hours - np.nan_to_num(age), hour_of_day)
    return np.nan_to_num(used_mm_day)[found.block] * days


def by_block(seen: SitesSeen, blocks: int, full_sigma_mm: Floats) -> Observed:
    """The sites of each block as one, weighted by their own uncertainty.

    Parameters
    ----------
    seen : SitesSeen, (sites, times)
    blocks : int
    full_sigma_mm : array, shape (blocks,) [mm]
        What the soil's full point adds: the zero from which a deficit counts.
    """
    times = seen.value_mm.shape[1]
    if not seen.block.size:
        none = np.full((blocks, times), np.nan)
        return Observed(none, none, none, none, none, none[:, 0], np.zeros(blocks, bool))
    both = combine_sites(seen.value_mm, np.maximum(seen.own_sigma_mm, 0.1), seen.block, blocks)
    heard = both.count > 0
    # The newest word tells how far the sites lie off; a wet and a dry half widen it.
    at = times - 1 - np.argmax(heard[:, ::-1], axis=1)
    offset = np.hypot(both.sigma[np.arange(blocks), at], full_sigma_mm)
    now = np.nan_to_num(both.between[:, -1]), np.nan_to_num(both.alone[:, -1])
    return Observed(
        depletion_mm=both.value,
        surplus_mm=both.mean(seen.surplus_mm),
        scatter_mm=np.sqrt(both.mean(seen.scatter_mm**2) / np.maximum(both.count, 1)),
        below_mm=both.mean(seen.below_mm),
        unseen_mm=both.mean(seen.unseen_mm),
        offset_sigma_mm=np.where(heard.any(axis=1), offset, np.nan),
        disagree=(both.count[:, -1] > 1) & (now[0] > 1.5 * now[1]),
    )
