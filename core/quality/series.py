"""Readings of many channels end to end, and what lies before, after and around each."""

from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Bools, Floats

# Further apart than this many usual steps, two readings are not neighbours.
NEIGHBOUR_STEPS = 1.5
# Hours that keep the channels apart on one rising axis: a century, and yet a thousand channels
# leave a millisecond of room.
_FAR = 1e6


@dataclass(frozen=True)
class Series:
    """Arrays of shape (readings,), sorted by channel and, within it, by time.

    channel : array of int, index of the channel
    hours : array [h, an origin within half a century], rising within a channel
    value : array, finite
    step : array [h], the usual time between readings of the channel; inf for a lone one
    """

    channel: np.ndarray
    hours: Floats
    value: Floats
    step: Floats

    @classmethod
    def of(cls, channel: ArrayLike, hours: ArrayLike, value: ArrayLike) -> Self:
        """A series of sorted readings.

        Raises
        ------
        ValueError
            When they are not sorted, or a time appears twice in a channel.
        """
        c = np.asarray(channel, np.int64)
        t = np.asarray(hours, float)
        same = c[1:] == c[:-1]
        gap = np.diff(t)
        if np.any(np.diff(c) < 0) or np.any(gap[same] <= 0):
            raise ValueError("readings must be sorted by channel and time, each time once")
        return cls(c, t, np.asarray(value, float), _usual_step(c, gap, same))

    def shift(self, x: Floats, by: int) -> Floats:
        """Of each reading the one ``by`` places before (> 0) or after (< 0) in its channel.

        NaN where there is none, or where a gap lies between.
        """
        out = np.full(x.shape, np.nan)
        k = abs(by)
        if k == 0 or k >= x.size:
            return x if k == 0 else out
        ok = (self.channel[k:] == self.channel[:-k]) & (
            self.hours[k:] - self.hours[:-k] <= self.step[k:] * (k - 1 + NEIGHBOUR_STEPS)
        )
        if by > 0:
            out[k:] = np.where(ok, x[:-k], np.nan)
        else:
            out[:-k] = np.where(ok, x[k:], np.nan)
        return out

    @property
    def axis(self) -> Floats:
        """One rising figure over all channels: time within, far apart between."""
        out: Floats = self.channel * _FAR + self.hours
        return out

    def window(self, back_hours: float, ahead_hours: float) -> tuple[np.ndarray, np.ndarray]:
        """First index and end index of the readings around each; the ends are included."""
        axis = self.axis
        slack = 1e-3
        first = np.searchsorted(axis, axis - back_hours - slack, "left")
        end = np.searchsorted(axis, axis + ahead_hours + slack, "right")
        return first, end

    def at_or_before(self, hours_back: float) -> tuple[np.ndarray, Bools]:
        """Index of the reading of each channel that lay so many hours before; and if it exists.

        It may lie up to one and a half usual steps earlier.
        """
        axis = self.axis
        at = np.searchsorted(axis, axis - hours_back + 1e-3, "right") - 1
        known = at >= 0
        at = np.maximum(at, 0)
        near = self.hours - self.hours[at] <= hours_back + NEIGHBOUR_STEPS * self.step
        return at, known & (self.channel[at] == self.channel) & near


def window_sums(x: Floats, first: np.ndarray, end: np.ndarray) -> Floats:
    """Sum of ``x`` between indices, for each pair; x must be finite."""
    total = np.concatenate([[0.0], np.cumsum(x)])
    out: Floats = total[end] - total[first]
    return out


def _usual_step(channel: np.ndarray, gap: Floats, same: Bools) -> Floats:
    """Median time between readings of each channel, at each of its readings."""
    if channel.size == 0:
        return np.empty(0)
    starts = np.flatnonzero(np.concatenate([[True], ~same]))
    counts = np.diff(np.append(starts, channel.size))
    owner = np.repeat(np.arange(starts.size), counts)
    inner = owner[1:][same]
    order = np.lexsort((gap[same], inner))
    sizes = np.maximum(counts - 1, 0)
    first = np.concatenate([[0], np.cumsum(sizes)[:-1]])
    median = np.full(starts.size, np.inf)
    known = sizes > 0
    middle = (first + (sizes - 1) // 2)[known]
    median[known] = gap[same][order][middle]
    out: Floats = median[owner]
    return out
