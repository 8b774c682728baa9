"""The days ahead of many root zones, under every member of the weather at once.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 8.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.balance.root_zone import balance_day
from core.state.zones import RootZones


@dataclass(frozen=True)
class Ahead:
    """Root zones at the start of each day, index 0 now.

    depletion_mm : array, shape (blocks, cases, days + 1) [mm]; below zero is surplus
    raw_mm : array, shape (blocks, 1, days + 1) [mm]
    water_mm, drained_mm : array, shape (blocks, cases, days), that entered and that left the
        root zone downwards on each day [mm]
    et_mm, ks, new_soil_mm : the same, used, slowed by Ks and met by growing roots; empty along
        the last axis where only the depletion was asked for
    """

    depletion_mm: Floats
    raw_mm: Floats
    et_mm: Floats
    ks: Floats
    water_mm: Floats
    new_soil_mm: Floats
    drained_mm: Floats

    @property
    def usable_mm(self) -> Floats:
        """RAW - depletion: below zero below refill; (blocks, cases, days + 1) [mm]."""
        return self.raw_mm - self.depletion_mm


def by_day(days: int, blocks: int, cases: int) -> Floats:
    """Room for values by block, case and day, each day of all lying together in memory: a day is
    what is written and read at a time."""
    return np.moveaxis(np.empty((days, blocks, cases)), 0, -1)


def run_ahead(
    zones: RootZones,
    today: int,
    start_mm: Floats,
    below_mm: Floats,
    etc_mm: Floats,
    water_mm: Floats,
    bare_mm: ArrayLike = 0.0,
    flows: bool = True,
) -> Ahead:
    """Carry root zones through the days ahead.

    Parameters
    ----------
    zones : RootZones
        Column ``today`` is today's; there is one for every day ahead.
    start_mm : array, shape (blocks, cases) [mm]
    below_mm : array, shape (blocks,) [mm]
    etc_mm, water_mm : array, shape (blocks, cases, days) [mm/day]
        Use without stress; water that enters.
    bare_mm : array, broadcastable to the same [mm/day]
    flows : bool
        Whether use, Ks and new soil are kept too: for many members they are much and not shown.

    Returns
    -------
    Ahead
    """
    blocks, cases, days = etc_mm.shape
    bare = np.broadcast_to(np.asarray(bare_mm, float), etc_mm.shape)
    depletion = by_day(days + 1, blocks, cases)
    depletion[..., 0] = start_mm
    state = start_mm
    below = np.broadcast_to(below_mm[:, None], start_mm.shape)
    drained = by_day(days, blocks, cases)
    et, ks, new_soil = (by_day(days if flows else 0, blocks, cases) for _ in range(3))
    for d in range(days):
        water = water_mm[..., d]
        after = balance_day(
            state, below, zones.day(today + d, axes=1), water, etc_mm[..., d], bare[..., d]
        )
        drained[..., d] = after.drained_mm
        if flows:
            et[..., d], ks[..., d] = after.et_mm, after.ks
            moved = after.et_mm + after.drained_mm + after.runoff_mm - water
            new_soil[..., d] = after.depletion_mm - state - moved
        state, below = after.depletion_mm, after.below_mm
        depletion[..., d + 1] = state
    return Ahead(
        depletion_mm=depletion,
        raw_mm=zones.raw_mm[:, None, today : today + days + 1],
        et_mm=et,
        ks=ks,
        water_mm=water_mm,
        new_soil_mm=new_soil,
        drained_mm=drained,
    )


def days_until_refill(usable_mm: ArrayLike) -> Floats:
    """Days until usable water runs out.

    Parameters
    ----------
    usable_mm : array, shape (..., days + 1) [mm]

    Returns
    -------
    array, shape (...) [days]
        0 when it has run out already, infinity when it lasts beyond the last day; straight
        line within the day of crossing.
    """
    usable = np.asarray(usable_mm, float)
    out = usable <= 0
    first = out.argmax(axis=-1)
    before = np.take_along_axis(usable, np.maximum(first - 1, 0)[..., None], axis=-1)[..., 0]
    after = np.take_along_axis(usable, first[..., None], axis=-1)[..., 0]
    with np.errstate(invalid="ignore", divide="ignore"):
        within = np.where(first > 0, first - 1 + before / (before - after), 0.0)
    return np.where(out.any(axis=-1), within, np.inf)


def rank(share: ArrayLike, count: int) -> np.ndarray:
    """Place from 0, among so many cases in order, that a share of them stay at or below."""
    return np.clip(np.ceil(np.asarray(share, float) * count).astype(int) - 1, 0, count - 1)


def quantile(values: Floats, share: ArrayLike, axis: int = -1) -> Floats:
    """The value that a share of the cases stay at or below, a case itself and never a mean.

    Parameters
    ----------
    values : array
        May hold infinity, which no interpolation between cases could carry.
    share : float or array, broadcastable to the values without the axis [0-1]
    """
    ordered = np.moveaxis(np.sort(values, axis=axis), axis, -1)
    index = rank(share, ordered.shape[-1])
    at = np.broadcast_to(index, ordered.shape[:-1])[..., None]
    picked: Floats = np.take_along_axis(ordered, at, axis=-1)[..., 0]
    return picked
