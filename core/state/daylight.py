"""How a day's water use is spread over its hours."""

import numpy as np

from core.arrays import ArrayLike, Floats

# Light from six to eight, strongest at one: close enough for every farm in its season
# (working assumption, no source).
SUNRISE, SUNSET = 6.0, 20.0


def used_by(hour: ArrayLike) -> Floats:
    """Share of a day's water use that is over by an hour of the day [0-24]; 0 to 1."""
    light = np.clip((np.asarray(hour, float) - SUNRISE) / (SUNSET - SUNRISE), 0, 1)
    return (1 - np.cos(np.pi * light)) / 2


def days_used(hours: ArrayLike, hour_of_day: float) -> Floats:
    """Days' worth of use from the midnight before now up to hours from now; may be negative.

    Parameters
    ----------
    hours : array [h from now]
    hour_of_day : float [h]
        Of now, by the farm's clock.
    """
    clock = np.asarray(hours, float) + hour_of_day
    day = np.floor(clock / 24)
    return day + used_by(clock - 24 * day)
