"""Water that reached the root zones of many blocks, event by event."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import Floats


@dataclass(frozen=True)
class WaterGiven:
    """Sets and rain; arrays of shape (events,), ``block`` rising.

    block : row of the block; hours [h from now, at most 0]; net_mm [mm]; is_rain : of bool
    """

    block: np.ndarray
    hours: Floats
    net_mm: Floats
    is_rain: np.ndarray

    @classmethod
    def of(cls, events: Iterable[tuple[int, float, float, bool]]) -> Self:
        """From rows of block, hours, net and whether it was rain; blocks rising."""
        rows = np.array([tuple(e) for e in events], float).reshape(-1, 4)
        block, hours, net, rain = rows.T
        return cls(block.astype(int), hours, net, rain.astype(bool))

    def by_day(self, blocks: int, days: int) -> tuple[Floats, Floats]:
        """Rain and sets on each of the last days; (blocks, days) [mm net].

        Days have 24 h and the last one ends now.
        """
        column = np.ceil(self.hours / 24).astype(int) - 1 + days
        kept = (column >= 0) & (column < days)
        at = self.block[kept], column[kept]
        rain, sets = (np.zeros((blocks, days)) for _ in range(2))
        net, fell = self.net_mm[kept], self.is_rain[kept]
        np.add.at(rain, at, np.where(fell, net, 0.0))
        np.add.at(sets, at, np.where(fell, 0.0, net))
        return rain, sets

    def on_its_way(self, blocks: int, days: int, lasts_days: int) -> Floats:
        """Water of the last days still moving at each morning, halved every day.

        Returns
        -------
        array, shape (blocks, days + 1) [mm]
        """
        out = np.zeros((blocks, days + 1))
        first = np.ceil(self.hours / 24).astype(int) + days
        for k in range(lasts_days + 1):
            since = 24.0 * (first + k - days) - self.hours
            kept = (first + k >= 0) & (first + k <= days) & (since < 24 * lasts_days)
            left = self.net_mm[kept] * 0.5 ** (since[kept] / 24)
            np.add.at(out, (self.block[kept], first[kept] + k), left)
        return out

    def since(self, block: np.ndarray, hours: Floats, age: Floats) -> Floats:
        """Water that came between a word and the moment it speaks for.

        Parameters
        ----------
        block : array of int, shape (sites,)
        hours : array, shape (times,), rising by 24, the last one 0 [h from now]
        age : array, shape (sites, times), below 24 [h]
            Of the word at each moment; NaN where there is none.

        Returns
        -------
        array, shape (sites, times) [mm]
        """
        out = np.zeros(age.shape)
        start = np.searchsorted(self.block, block, "left")
        count = np.searchsorted(self.block, block, "right") - start
        site = np.repeat(np.arange(block.size), count)
        event = np.arange(count.sum()) - np.repeat(np.cumsum(count) - count - start, count)
        # A word is younger than a day: water can lie only before the first moment after it.
        column = np.ceil(self.hours[event] / 24).astype(int) + hours.size - 1
        kept = (column >= 0) & (column < hours.size)
        site, event, column = site[kept], event[kept], column[kept]
        unseen = self.hours[event] > hours[column] - age[site, column]
        np.add.at(out, (site[unseen], column[unseen]), self.net_mm[event[unseen]])
        return out
