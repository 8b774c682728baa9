"""Blocks that are watered each day by what was used: when, and how much makes it worth it."""

import numpy as np

from core.advice.gather import Gathered
from core.arrays import Bools, Floats
from core.outlook.ahead import Ahead, days_until_refill

# Of what the crop may use, the most that is let go before the next water (working assumption, no
# source).
MOST_SHARE = 0.5


def waters_daily(g: Gathered) -> Bools:
    """Blocks watered little and often; what moves over a block can't be."""
    wanted = [b.assumed.little_and_often and not b.assumed.system.moves for b in g.blocks]
    return np.array(wanted)


def daily_hours(g: Gathered, expected: Ahead) -> Floats:
    """Hours until a day's use is missing; infinity where it never is, (blocks,).

    What is missing is a day's use of the expected case, or half of what the crop may use where
    that is less.
    """
    used = expected.et_mm[:, 0, 0]
    due = np.minimum(used, MOST_SHARE * expected.raw_mm[:, 0, 0])
    left = due[:, None] - np.maximum(expected.depletion_mm[:, 0], 0.0)
    return days_until_refill(left) * 24
