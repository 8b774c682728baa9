"""By when the water must come for a crop's sake, and what is left out of it for doubt's."""

import numpy as np

from core.arrays import Bools, Floats
from core.outlook.ahead import days_until_refill

# The share of a day's transpiration that may be lost on average by the end of the day, and by
# the end of the next, before the water comes; set on fields of Richards columns.
TAKEN_LOSS, NEXT_DAY_LOSS = 0.06, 0.12
CRITICAL_SHARE = 0.5  # of both while the crop is at its most sensitive; working assumption
# Of the spread of the depletion this much is left out of an amount, at most this share of it:
# water beyond full is lost, and what is missing then is given the next time.
UNSURE_SHARE, MOST_LEFT_OUT = 0.5, 0.1
# A set that brings more than the soil may have room for is lost in part: it waits until there may
# be room for so much of it.
WORTH_OF_SMALLEST = 0.8


def days_by_loss(lost: Floats, planned: Bools, critical: Bools) -> Floats:
    """Days until the water must come by the transpiration that its lack is expected to cost.

    It comes before 6 percent of it are lost, and a day before 12 percent are; half of that in the
    critical stage.

    Parameters
    ----------
    lost : array, shape (blocks, days + 1) [-]
        Share of the transpiration short at the start of each day, the mean of all members.
    planned : array of bool, shape (blocks,)
        Where sets are to come: what is lost now is not lost on once today's has come.
    critical : array of bool, shape (blocks,)

    Returns
    -------
    array, shape (blocks,) [days], infinity where it is not in sight
    """
    lost = lost.copy()
    lost[:, 0] = np.where(planned, np.minimum(lost[:, 0], lost[:, 1]), lost[:, 0])
    most = np.where(critical, CRITICAL_SHARE, 1.0)[:, None]
    soon = days_until_refill(TAKEN_LOSS * most - lost)
    later = days_until_refill(NEXT_DAY_LOSS * most - lost) - 1
    out: Floats = np.maximum(np.minimum(soon, later), 0.0)
    return out


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


def left_out_unsure(sigma_mm: Floats, due_mm: Floats) -> Floats:
    """What is left out of amounts because the depletion may be less than estimated [mm].

    Parameters
    ----------
    sigma_mm, due_mm : array, shape (blocks,) [mm]
        Spread of the depletion, and what is missing at the start.
    """
    out: Floats = np.minimum(UNSURE_SHARE * sigma_mm, MOST_LEFT_OUT * due_mm)
    return out
