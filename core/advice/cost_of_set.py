"""What a set costs beside the water that the roots keep of it, where the depletion is uncertain.

A set for all that seems to be missing overfills the roots wherever less is missing; a smaller
one overfills them less, but each set wets the surface anew, and the next one comes sooner. Set
follows set for a whole season, so that what counts is the cost of one over the water that the
roots keep of it [1]_.

References
----------
.. [1] Ross, S. M. (1996), Stochastic Processes, 2nd ed., Wiley, ch. 3.6: renewal reward
   processes, from memory.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.outlook.normal_loss import normal_loss

# What evaporates of the wetting by a set [mm]: under full cover, and more where the soil is bare.
# Working assumptions, no source; a wet bare surface loses about 5 mm before it slows (FAO-56,
# ch. 7, readily evaporable water 5-12 mm).
WETTING_MM, BARE_WETTING_MM = 1.0, 4.0
BARE_KC = 1.1  # of a wet bare surface [-]; FAO-56 ch. 7
# So many spreads of the depletion may be left out of a set.
LEFT_OUT = np.arange(0.0, 1.51, 0.25)[:, None]
# A set that brings the roots next to nothing costs as much as it brings.
MOST_COST = 1.0


@dataclass(frozen=True)
class CostOfSet:
    """left_out_mm : what is best left out of a set [mm]; cost : what is lost over what is kept
    [-]; arrays (blocks,)."""

    left_out_mm: Floats
    cost: Floats


def wetting_mm(kc: Floats, wetted: Floats) -> Floats:
    """What evaporates of a set because it wets the surface.

    Parameters
    ----------
    kc : array, shape (blocks,) [-]
        Of the crop today: what it covers.
    wetted : array, shape (blocks,), share of the ground that a set wets [-]

    Returns
    -------
    array, shape (blocks,) [mm]
    """
    out: Floats = wetted * (WETTING_MM + BARE_WETTING_MM * np.clip(BARE_KC - kc, 0.0, 1.0))
    return out


def cost_of_set(due_mm: Floats, sigma_mm: Floats, wetting: Floats) -> CostOfSet:
    """The least cost of a set, and what is left out of it then.

    Parameters
    ----------
    due_mm : array, shape (blocks,) [mm]
        Expected to be missing when it is given.
    sigma_mm : array, shape (blocks,) [mm]
        Spread of that, taken to be normal.
    wetting : array, shape (blocks,) [mm]
        What each set loses anyway.

    Notes
    -----
    With k spreads left out the roots lose sigma (phi(k) - k Phi(-k)) of the set on average.
    """
    k = LEFT_OUT
    over = sigma_mm * normal_loss(k)
    kept = due_mm - k * sigma_mm - over
    worth = kept > 0
    cost = np.where(worth, (over + wetting) / np.where(worth, kept, 1.0), np.inf)
    # What is known so badly that no set is worth its while is given as it seems to be missing.
    cost[0] = np.minimum(cost[0], MOST_COST)
    best = cost.argmin(axis=0)
    at = np.arange(best.size)
    return CostOfSet(k[best, 0] * sigma_mm, np.minimum(cost[best, at], MOST_COST))
