"""Rises of single channels: soil that got wetter within a few hours."""

from dataclasses import dataclass

import numpy as np
from numba import njit, prange

from core.arrays import Bools, Floats
from core.events.noise import LEAST_RISE, RISE_SIGMAS, Measure, channel_bounds
from core.quality.series import NEIGHBOUR_STEPS, Series

# A rise comes about within a few hours, or between one reading and the next; it is over when this
# long nothing more came (common practice, no source). Of 6 to 18 h tried on both simulated truths
# these find slow fronts and still tell when they came [h].
WITHIN_H = 9.0
# Readings further apart than this say nothing of when or whether soil got wetter [h].
LONGEST_GAP_H = 240.0
# Lone wild readings are looked past where there are neighbours to tell them by [h].
DENSE_STEP_H = 1.5
# Water has arrived when this share of the least rise is there: one spread of the steps [-].
ARRIVED_SHARE = 1 / RISE_SIGMAS


@dataclass(frozen=True)
class Channels:
    """What is known of each channel; arrays of shape (channels,).

    least : the least that counts as a rise [m3/m3 or kPa]
    is_tension : array of bool; a tension falls where soil gets wetter
    noise : of `core.events.noise.night_noise`; NaN where not known
    """

    least: Floats
    is_tension: Bools
    noise: Floats

    @classmethod
    def of(cls, measures: list[Measure], noise: Floats) -> "Channels":
        """From what each channel's values are figures of."""
        least = np.array([LEAST_RISE[m] for m in measures], float)
        is_tension = np.array([m is Measure.TENSION for m in measures], bool)
        return cls(least, is_tension, np.asarray(noise, float))


@dataclass(frozen=True)
class Rises:
    """Arrays of shape (rises,), by channel and time.

    channel : array of int
    before, after : array of int, the last reading before water arrived and the first after it
    peak : array of int, the wettest reading
    is_over : array of bool; False where the readings end before it could be told
    """

    channel: np.ndarray
    before: np.ndarray
    after: np.ndarray
    peak: np.ndarray
    is_over: Bools


@njit(cache=True)
def _smooth(hours: Floats, value: Floats, step: Floats, sign: float) -> Floats:
    """Median of three neighbours, turned so that wetter is more."""
    n = value.size
    out = sign * value
    for i in range(1, n - 1):
        close = min(step[i], DENSE_STEP_H) * NEIGHBOUR_STEPS
        if hours[i] - hours[i - 1] <= close and hours[i + 1] - hours[i] <= close:
            a, b, c = sign * value[i - 1], sign * value[i], sign * value[i + 1]
            out[i] = max(min(a, b), min(max(a, b), c))
    return out


@njit(cache=True)
def _channel(
    hours: Floats,
    value: Floats,
    step: Floats,
    least: float,
    noise: float,
    is_tension: bool,
    found: np.ndarray,
) -> int:
    """Rises of one channel into ``found`` (rises, 3); how many they are."""
    n, count = value.size, 0
    y = _smooth(hours, value, step, -1.0 if is_tension else 1.0)
    lows = np.empty(n, np.int64)  # indices of rising lows within the window
    head = tail = 0
    rising = False
    before = peak = mark = 0
    threshold = band = 0.0
    for i in range(n):
        within = max(WITHIN_H, NEIGHBOUR_STEPS * step[i])
        gap = hours[i] - hours[i - 1] if i else 0.0
        if rising:
            fell = y[peak] - y[i] >= threshold
            if not (fell or gap > LONGEST_GAP_H or hours[i] - hours[mark] > within):
                if y[i] > y[peak]:
                    peak = i
                if y[i] > y[mark] + band:
                    mark = i
                continue
            found[count, 0], found[count, 1], found[count, 2] = before, peak, 1
            count += 1
            rising = False
            head = tail = 0
            for j in range(peak, i):
                while tail > head and y[lows[tail - 1]] >= y[j]:
                    tail -= 1
                lows[tail] = j
                tail += 1
        while tail > head and hours[i] - hours[lows[head]] > within and lows[head] < i - 1:
            head += 1
        if gap > LONGEST_GAP_H:
            head = tail = 0
        if tail > head:
            low = lows[head]
            threshold = least
            if noise > 0:
                spread = noise * (-y[low] if is_tension else 1.0)
                threshold = max(threshold, RISE_SIGMAS * spread)
            if y[i] - y[low] >= threshold:
                band = threshold * ARRIVED_SHARE
                before = low
                for j in range(low, i):
                    if y[j] <= y[low] + band:
                        before = j
                rising, peak, mark = True, i, i
                continue
        while tail > head and y[lows[tail - 1]] >= y[i]:
            tail -= 1
        lows[tail] = i
        tail += 1
    if rising:
        found[count, 0], found[count, 1], found[count, 2] = before, peak, 0
        count += 1
    return count


@njit(cache=True, parallel=True)
def _all(
    bounds: np.ndarray,
    hours: Floats,
    value: Floats,
    step: Floats,
    least: Floats,
    noise: Floats,
    is_tension: Bools,
    found: np.ndarray,
    counts: np.ndarray,
) -> None:
    for c in prange(bounds.size - 1):
        a, b = bounds[c], bounds[c + 1]
        counts[c] = _channel(
            hours[a:b],
            value[a:b],
            step[a:b],
            least[c],
            noise[c],
            is_tension[c],
            found[a // 2 + c : b // 2 + c + 1],
        )


def find_rises(series: Series, channels: Channels) -> Rises:
    """Where channels got wetter, each within a few hours.

    Parameters
    ----------
    series : Series
        Readings that are trusted, in the unit of each channel's measure.
    channels : Channels

    Returns
    -------
    Rises
        Indices are places in the series.

    Notes
    -----
    A rise exceeds three spreads of the channel's steps at night, and at least 0.01 m3/m3 or 3 kPa,
    within nine hours or from one reading to the next where they are further apart. Lone wild
    readings are looked past (median of three). Water came between the last reading that had
    not moved by a third of that and the one after it: with few readings that is a wide range, and
    is told as one.
    """
    count = channels.least.size
    bounds = channel_bounds(series.channel, count)
    # A rise takes two readings at least, and each channel has a place of its own to spare.
    found = np.zeros((series.value.size // 2 + count + 1, 3), np.int64)
    counts = np.zeros(count, np.int64)
    _all(
        bounds,
        series.hours,
        series.value,
        series.step,
        channels.least,
        channels.noise,
        channels.is_tension,
        found,
        counts,
    )
    owner = np.repeat(np.arange(count), counts)
    within = np.arange(owner.size) - np.repeat(np.cumsum(counts) - counts, counts)
    rows = found[bounds[owner] // 2 + owner + within]
    before = rows[:, 0] + bounds[owner]
    return Rises(owner, before, before + 1, rows[:, 1] + bounds[owner], rows[:, 2] == 1)
