"""How much a channel's readings jump about when nothing happens, and what counts as a rise."""

from enum import StrEnum

import numpy as np
from numba import njit, prange

from core.arrays import Bools, Floats
from core.quality.series import NEIGHBOUR_STEPS, Series

# Of the day by the farm's clock [h]: no sun on the instruments, hardly any uptake.
NIGHT_FROM, NIGHT_TO = 22.0, 5.0
# What makes the median absolute deviation of normal noise its standard deviation [-].
TO_SIGMA = 1.4826
# A rise stands this many spreads of night-time steps above what was before (common practice, no
# source).
RISE_SIGMAS = 3.0
# Steps between readings further apart hold more drying than noise [h]; working assumption.
LONGEST_STEP_H = 2.0
# Fewer night-time steps say nothing of a spread; the least rise stands alone then.
FEWEST_STEPS = 24


class Measure(StrEnum):
    """What a channel's value is a figure of."""

    THETA = "theta"  # [m3/m3]
    TENSION = "tension"  # [kPa]; falls where soil gets wetter


# The least that counts as a rise, in the unit of the measure: below it, instruments and days
# differ (common practice, no source).
LEAST_RISE: dict[Measure, float] = {
    Measure.THETA: 0.01,
    Measure.TENSION: 3.0,
}


def is_night(local_hour: Floats) -> Bools:
    """Whether hours of the farm's clock lie in the night."""
    out: Bools = (local_hour >= NIGHT_FROM) | (local_hour < NIGHT_TO)
    return out


@njit(cache=True, parallel=True)
def _spreads(
    first: np.ndarray, hours: Floats, value: Floats, step: Floats, night: Bools, relative: Bools
) -> Floats:
    channels = first.size - 1
    out = np.full(channels, np.nan)
    for c in prange(channels):
        steps = np.empty(max(first[c + 1] - first[c], 1))
        count = 0
        for i in range(first[c] + 1, first[c + 1]):
            gap = hours[i] - hours[i - 1]
            near = gap <= min(step[i] * NEIGHBOUR_STEPS, LONGEST_STEP_H)
            if not (near and night[i] and night[i - 1]):
                continue
            change = value[i] - value[i - 1]
            if relative[c]:
                mean = 0.5 * (value[i] + value[i - 1])
                if mean <= 0:
                    continue
                change /= mean
            steps[count] = change
            count += 1
        if count >= FEWEST_STEPS:
            used = steps[:count]
            out[c] = TO_SIGMA * np.median(np.abs(used - np.median(used)))
    return out


def channel_bounds(channel: np.ndarray, channels: int) -> np.ndarray:
    """First index of each channel's readings and the end of the last one's; (channels + 1,)."""
    return np.searchsorted(channel, np.arange(channels + 1))


def night_noise(series: Series, local_hour: Floats, is_tension: Bools) -> Floats:
    """Spread of the steps from one reading to the next at night, by channel.

    Parameters
    ----------
    series : Series
    local_hour : array, shape (readings,) [h], the farm's clock
    is_tension : array of bool, shape (channels,)

    Returns
    -------
    array, shape (channels,)
        Scaled median absolute deviation [m3/m3, or of a tension its share, since a gauge's
        noise grows with what it shows]; NaN where fewer than 24 steps were seen.
    """
    bounds = channel_bounds(series.channel, is_tension.size)
    night = is_night(local_hour)
    found: Floats = _spreads(
        bounds, series.hours, series.value, series.step, night, np.asarray(is_tension, bool)
    )
    return found


def rise_threshold(value: Floats, noise: Floats, measure: Measure) -> Floats:
    """What a rise from ``value`` has to exceed, in the unit of the measure.

    Parameters
    ----------
    value : array
        What was read before the rise.
    noise : array, broadcastable to the values
        Of `night_noise`; NaN where it is not known.
    """
    spread = np.nan_to_num(noise) * (value if measure is Measure.TENSION else 1.0)
    return np.maximum(RISE_SIGMAS * spread, LEAST_RISE[measure])
