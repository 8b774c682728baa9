"""Water for leaching in the next set: what the season still owes, not a share of every set.

References
----------
.. [1] Ayers, R. S., Westcot, D. W. (1985), Water quality for agriculture, FAO Irrigation and
   Drainage Paper 29 rev. 1, ch. 2.4: leaching counts over the season; rain and what passes the
   roots anyway is a part of it, and it need not come with each irrigation.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.crop.salinity import MOST_LEACHING
from core.state.track import Track


@dataclass(frozen=True)
class LeachingOfSet:
    """Arrays (blocks,).

    owed_mm : what of the season's water should have passed the roots, less what did; below zero
        more did; NaN where that is not followed [mm net]
    due_mm : to pass the roots with the next set [mm net]
    share : of the set's water [-]
    """

    owed_mm: Floats
    due_mm: Floats
    share: Floats


def leaching_of_set(
    blocks: Sequence[BlockInputs], found: Track, wanted_mm: Floats
) -> LeachingOfSet:
    """Leaching that comes with a set.

    Parameters
    ----------
    blocks : sequence of BlockInputs, (blocks,)
    found : Track
    wanted_mm : array, shape (blocks,) [mm net]
        What the roots are to keep of the set.

    Returns
    -------
    LeachingOfSet
        With LR the share of the water that must pass [1]_, owed = LR x given - passed; due is
        that and the set's own, LR / (1 - LR) x wanted; never more than the share that is
        practical in one set. Where the season is not followed, each set has its own.
    """
    required = np.array([b.assumed.leaching_share for b in blocks])
    owed = required * found.season_given_mm - found.season_leached_mm
    own = required / (1 - required) * wanted_mm
    due = np.where(required > 0, np.maximum(np.nan_to_num(owed) + own, 0.0), 0.0)
    whole = np.maximum(due + wanted_mm, 1e-3)
    return LeachingOfSet(owed, due, np.minimum(due / whole, MOST_LEACHING))
