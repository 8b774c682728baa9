"""Simulated daily weather: reference ET and rain of one growing season."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats


@dataclass(frozen=True)
class Weather:
    """Arrays of shape (days,): et0_mm, rain_mm [mm/day], ET0 on the grass surface;
    t_min_c, t_max_c [degrees C]."""

    et0_mm: Floats
    rain_mm: Floats
    t_min_c: Floats
    t_max_c: Floats


def simulate_weather(
    days: int, first_day_of_year: int, seed: int, dry_tail_days: int = 0
) -> Weather:
    """One season of invented weather.

    Parameters
    ----------
    days : int
    first_day_of_year : int
        1 is 1 January, northern hemisphere.
    seed : int
    dry_tail_days : int
        Days without rain at the end.

    Returns
    -------
    Weather
        ET0 follows the year with day-to-day persistence; rain falls in spells and lowers
        the day's ET0.
    """
    rng = np.random.default_rng(seed)
    day = first_day_of_year + np.arange(days)
    season = 3.4 + 2.3 * np.cos(2 * np.pi * (day - 185) / 365)
    noise = np.empty(days)
    level = 0.0
    for i in range(days):
        level = 0.7 * level + rng.normal(0, 0.55)
        noise[i] = level
    wet = np.zeros(days, bool)
    for i in range(1, days):
        wet[i] = rng.random() < (0.45 if wet[i - 1] else 0.14)
    if dry_tail_days:
        wet[-dry_tail_days:] = False
    rain = np.where(wet, np.round(rng.gamma(0.9, 7.0, days), 1), 0.0)
    et0 = np.clip(season + noise - 1.3 * wet, 0.6, 9.0)
    # Bright days with high ET are warm by noon and cool by dawn; wet ones stay even.
    mean = 11.5 + 8.0 * np.cos(2 * np.pi * (day - 205) / 365) + 1.2 * noise
    swing = np.where(wet, 3.0, 4.0 + 0.6 * et0)
    return Weather(
        et0_mm=np.round(et0, 2),
        rain_mm=rain,
        t_min_c=np.round(mean - swing, 1),
        t_max_c=np.round(mean + swing, 1),
    )
