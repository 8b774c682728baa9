"""Invented wind: calm nights, and afternoons that blow on some days."""

import numpy as np

from core.arrays import Floats

NIGHT_M_S, LEAST_M_S, MOST_M_S = 1.2, 0.5, 4.5
RISES_H, LASTS_H = 8, 14


def simulate_wind(first_day: int, days: int, seed: int) -> Floats:
    """Mean wind of each hour at 2 m [m/s], shape (24 days,); a day is the same whoever asks.

    Parameters
    ----------
    first_day : int
        Counted from any day; the same days have the same wind.
    """
    hours = np.arange(24)
    day_part = np.sin(np.pi * np.clip((hours - RISES_H) / LASTS_H, 0.0, 1.0))
    blows = [
        np.random.default_rng([seed, day]).uniform(LEAST_M_S, MOST_M_S)
        for day in range(first_day, first_day + days)
    ]
    wind: Floats = np.round(NIGHT_M_S + np.outer(blows, day_part), 1).ravel()
    return wind
