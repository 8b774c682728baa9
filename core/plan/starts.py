"""When the sets of a pattern may begin: one, two, or alike every so many days or so many a day."""

from collections.abc import Iterator
from functools import lru_cache
from itertools import combinations

import numpy as np

from core.plan.slots import DAYS, SLOT_H, SLOTS, SLOTS_PER_DAY

# Two sets begin so many slots apart from each other's choices; finer gave no better plans.
PAIR_STEP = 3
EVERY_DAYS = (1, 2, 3, 4)
# Several sets a day come while the crop uses water, six to eighteen, as pulses of the advice do.
DAYLIGHT_FROM, DAYLIGHT = round(6 / SLOT_H), round(12 / SLOT_H)
MOST_A_DAY = 3


@lru_cache(maxsize=1)
def pairs() -> np.ndarray:
    """Starts of two sets, the first before the other; array of int, shape (pairs, 2)."""
    return np.array(list(combinations(range(0, SLOTS, PAIR_STEP), 2)))


@lru_cache(maxsize=MOST_A_DAY)
def periodic(a_day: int) -> np.ndarray:
    """Starts of sets alike, in order; array of int, shape (patterns, most sets), -1 is none.

    Parameters
    ----------
    a_day : int
        How many one day may have; two and more come evenly apart in the daylight.
    """
    rows = [*_every_some_days(), *_each_day(a_day)]
    out = np.full((len(rows), DAYS * max(a_day, 1)), -1)
    for k, row in enumerate(rows):
        out[k, : len(row)] = row
    return out


def _every_some_days() -> Iterator[range]:
    for every in EVERY_DAYS:
        step = every * SLOTS_PER_DAY
        for first in range(step):
            if first + step < SLOTS:
                yield range(first, SLOTS, step)


def _each_day(most: int) -> Iterator[list[int]]:
    for times in range(2, most + 1):
        apart = DAYLIGHT // times
        for first in range(DAYLIGHT_FROM, DAYLIGHT_FROM + apart):
            days = range(first, SLOTS, SLOTS_PER_DAY)
            yield [t + k * apart for t in days for k in range(times)]
