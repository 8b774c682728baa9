"""When water last came to a reading's block."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats

_FAR = 1e6  # hours


@dataclass(frozen=True)
class Water:
    """Sets, rain and refills: arrays of shape (events,).

    block : array of int
    start_hours, end_hours : array [h, the readings' origin]
    """

    block: np.ndarray
    start_hours: Floats
    end_hours: Floats

    @classmethod
    def none(cls) -> "Water":
        """No water at all."""
        return cls(np.empty(0, np.int64), np.empty(0), np.empty(0))

    def hours_since(self, block: np.ndarray, hours: Floats) -> Floats:
        """Time since water last ran, for each reading [h].

        Parameters
        ----------
        block : array of int, shape (readings,)
        hours : array, shape (readings,) [h]

        Returns
        -------
        array, shape (readings,)
            0 while it runs, inf when none came before.
        """
        if self.block.size == 0:
            return np.full(hours.shape, np.inf)
        order = np.lexsort((self.start_hours, self.block))
        owner = self.block[order]
        start = owner * _FAR + self.start_hours[order]
        # A long set may outlast a later short one; the block's own start keeps them apart.
        end = np.maximum.accumulate(owner * _FAR + self.end_hours[order])
        at = np.searchsorted(start, block * _FAR + hours, "right") - 1
        known = (at >= 0) & (owner[np.maximum(at, 0)] == block)
        ended = end[np.maximum(at, 0)] - block * _FAR
        return np.where(known, np.maximum(hours - ended, 0.0), np.inf)
