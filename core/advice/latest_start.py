"""By when the water must come for a crop's sake."""

import numpy as np

from core.arrays import Bools, Floats
from core.outlook.ahead import days_until_refill, quantile

# A millimetre of transpiration is worth this many of water; what a set costs then says how much
# of the transpiration may be lost before the next one comes, within bounds. Set on fields of
# Richards columns.
WORTH_OF_USE = 0.8
LEAST_LOSS, MOST_LOSS = 0.03, 0.15
NEXT_DAY = 2.0  # times as much may be lost by the end of the next day
CRITICAL_SHARE = 0.5  # of it while the crop is at its most sensitive; working assumption
FIRST_SHARE = 0.02  # of the members, the one that is first of fifty
# A set that brings more than the soil may have room for is lost in part: it waits until there may
# be room for so much of it.
WORTH_OF_SMALLEST = 0.8


def taken_loss(cost: Floats, critical: Bools) -> Floats:
    """Share of a day's transpiration that may be lost before the water comes.

    Waiting a day costs the transpiration lost on it, and saves what a set costs for as much use:
    it pays until the two are the same. In the critical stage half of that.

    Parameters
    ----------
    cost : array, shape (blocks,), see `core.advice.cost_of_set` [-]
    critical : array of bool, shape (blocks,)
    """
    share = np.where(critical, CRITICAL_SHARE, 1.0)
    out: Floats = share * np.clip(cost / WORTH_OF_USE, LEAST_LOSS, MOST_LOSS)
    return out


def days_by_loss(lost: Floats, taken: Floats, planned: Bools) -> Floats:
    """Days until the water must come by the transpiration that its lack is expected to cost.

    It comes before the share that is taken is lost, and a day before twice as much is.

    Parameters
    ----------
    lost : array, shape (blocks, days + 1) [-]
        Share of the transpiration short at the start of each day, the mean of all members.
    taken : array, shape (blocks,), see `taken_loss` [-]
    planned : array of bool, shape (blocks,)
        Where sets are to come: what is lost now is not lost on once today's has come.

    Returns
    -------
    array, shape (blocks,) [days], infinity where it is not in sight
    """
    lost = lost.copy()
    lost[:, 0] = np.where(planned, np.minimum(lost[:, 0], lost[:, 1]), lost[:, 0])
    soon = days_until_refill(taken[:, None] - lost)
    later = days_until_refill(NEXT_DAY * taken[:, None] - lost) - 1
    out: Floats = np.maximum(np.minimum(soon, later), 0.0)
    return out


def days_until_any_short(usable_mm: Floats, caution: float) -> Floats:
    """Days until the first of the members is below refill: no set is due before for a crop's sake.

    Parameters
    ----------
    usable_mm : array, shape (blocks, cases, days + 1) [mm]
    caution : float
        So many times as far apart as they are said to be.

    Returns
    -------
    array, shape (blocks,) [days]
    """
    middle = np.median(usable_mm, axis=1, keepdims=True)
    return quantile(days_until_refill(middle + caution * (usable_mm - middle)), FIRST_SHARE)


def days_until_worth(
    depletion_mm: Floats, above_mm: Floats, smallest_net_mm: Floats, raw_mm: Floats
) -> Floats:
    """Days until the depletion could be as much as most of the smallest set brings, or as the
    crop may use: from then on a set is not lost, or not to be waited for.

    Parameters
    ----------
    depletion_mm : array, shape (blocks, days + 1) [mm]
        Expected.
    above_mm : array, shape (blocks,) [mm]
        By how much it may be more.
    smallest_net_mm, raw_mm : array, shape (blocks,) [mm]

    Returns
    -------
    array, shape (blocks,) [days]
    """
    enough = np.minimum(WORTH_OF_SMALLEST * smallest_net_mm, raw_mm)
    return days_until_refill((enough - above_mm)[:, None] - depletion_mm)
