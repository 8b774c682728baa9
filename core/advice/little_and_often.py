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


def daily_due(expected: Ahead) -> Floats:
    """What may be missing before the next water, (blocks,) [mm]: a day's use of the expected case,
    or half of what the crop may use where that is less."""
    return np.minimum(expected.et_mm[:, 0, 0], MOST_SHARE * expected.raw_mm[:, 0, 0])


def daily_hours(g: Gathered, expected: Ahead) -> Floats:
    """Hours until `daily_due` is missing; infinity where it never is, (blocks,)."""
    left = daily_due(expected)[:, None] - np.maximum(expected.depletion_mm[:, 0], 0.0)
    return days_until_refill(left) * 24
