"""What blocks need from now to the end of their seasons, over courses that the weather may take."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.advice.needs_ahead import NeedsAhead
from core.arrays import Floats
from core.crop.yield_loss import loss_per_mm
from core.finish.rest_of_season import RestOfSeason, use_and_rain, use_factor
from core.plan.capacity import SupplyNeed
from core.plan.season_water import SeasonNeed

# Beyond so many days nothing is said of by when to begin: the peak is over, or far.
START_DAYS = 60
WEEK_DAYS = 7
MM_PER_M = 1000.0


@dataclass(frozen=True)
class BlockToCome(RestOfSeason):
    """A block from now to the end of its season.

    depletion_mm, raw_mm : float [mm]
    gross_m3_mm : float [m3 for each mm net]
    value : float, money for all of its yield
    """

    depletion_mm: float
    raw_mm: float
    gross_m3_mm: float
    value: float


def block_to_come(
    needs: NeedsAhead, rain_share: float, gross_m3_mm: float, value: float
) -> BlockToCome:
    """What the advice knows of a block, for the rest of its season."""
    crop = needs.season.crop
    return BlockToCome(
        crop=crop,
        book_day=needs.book_day,
        use_factor=use_factor(crop, needs.book_day, needs.use_mm, needs.et0_mm_day),
        rain_share=rain_share,
        depletion_mm=float(needs.depletion_mm.mean()),
        raw_mm=float(needs.raw_mm.mean()),
        gross_m3_mm=gross_m3_mm,
        value=value,
    )


def season_need(blocks: Sequence[BlockToCome], et0: Floats, rain: Floats) -> SeasonNeed:
    """What irrigation has to bring by weeks, so that no block passes refill.

    Parameters
    ----------
    et0, rain : arrays, shape (years, days) [mm/day]
    """
    weeks = -(-et0.shape[1] // WEEK_DAYS)
    need = np.zeros((et0.shape[0], len(blocks), weeks))
    value = np.zeros((len(blocks), weeks))
    usual = float(et0.mean())
    for b, block in enumerate(blocks):
        use, falls = use_and_rain(block, et0, rain)
        store = np.full(et0.shape[0], block.raw_mm - block.depletion_mm)
        for day in range(et0.shape[1]):
            store = np.minimum(store + falls[:, day], block.raw_mm) - use[:, day]
            lacking = np.maximum(-store, 0.0)
            need[:, b, day // WEEK_DAYS] += lacking
            store += lacking
        value[b] = [
            loss_per_mm(block.crop, block.book_day + w * WEEK_DAYS, usual, block.value)
            for w in range(weeks)
        ]
    return SeasonNeed(need, value, np.array([b.gross_m3_mm for b in blocks]))


def supply_need(blocks: Sequence[BlockToCome], et0: Floats, rain: Floats) -> SupplyNeed:
    """The same blocks day by day, for by when watering must begin; see `season_need`."""
    days = min(et0.shape[1], START_DAYS)
    gains = [np.subtract(*use_and_rain(b, et0[:, :days], rain[:, :days])) for b in blocks]
    efficiency = np.ones(len(blocks))
    return SupplyNeed(
        # As m3 for each mm net; what is lost on the way is in it.
        area_m2=np.array([b.gross_m3_mm for b in blocks]) * MM_PER_M,
        efficiency=efficiency,
        depletion_mm=np.array([b.depletion_mm for b in blocks]),
        raw_mm=np.array([b.raw_mm for b in blocks]),
        gain_mm=np.stack(gains, axis=1),
    )
