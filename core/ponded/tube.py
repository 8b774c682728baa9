"""Water tubes in a field: what they read, and which of them can be relied on."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats

# A reading with a rule or by a logger (working assumption, no source) [mm].
READING_SIGMA_MM = 5.0
# A tube whose level is carried on for longer tells nothing of today [days].
CARRIED_DAYS = 10.0
# Readings of several tubes that lie further apart are told of [mm] (working assumption).
APART_MM = 50.0


@dataclass(frozen=True)
class Tube:
    """Readings of one water tube, oldest first.

    hours : array, shape (readings,) [h from now], at most 0
    level_mm : array, shape (readings,), above the ground, below zero under it
    believed : array of bool, shape (readings,)
    """

    name: str
    hours: Floats
    level_mm: Floats
    believed: Bools

    @property
    def good(self) -> tuple[Floats, Floats]:
        """Hours and levels of the readings that are believed."""
        return self.hours[self.believed], self.level_mm[self.believed]


def newest(tubes: Sequence[Tube]) -> tuple[Floats, Floats]:
    """Hours and level of the newest believed reading of each tube that has one."""
    last = [(h[-1], x[-1]) for t in tubes for h, x in [t.good] if h.size]
    hours, level = zip(*last, strict=True) if last else ((), ())
    return np.array(hours, float), np.array(level, float)
