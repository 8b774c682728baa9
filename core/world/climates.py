"""Invented climates with the weather that came and the forecasts that were made of it."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.outlook.forecast import MEMBERS

FORECAST_DAYS = 10


class Climate(StrEnum):
    ARID = "arid"
    MIXED = "mixed"
    HUMID = "humid"


# Mean ET0 in mid season and its rise towards it [mm/day], chance of rain after a dry and after
# a wet day, mean rain of a wet day [mm]: invented, in the range of irrigated land.
FIGURES = {
    Climate.ARID: (6.8, 1.4, 0.03, 0.25, 6.0),
    Climate.MIXED: (5.2, 1.2, 0.12, 0.40, 8.0),
    Climate.HUMID: (4.2, 1.0, 0.25, 0.55, 9.0),
}


@dataclass(frozen=True)
class Season:
    """et0_mm, rain_mm : array (days,) as they came [mm/day]
    forecast_et0_mm, forecast_rain_mm : array (days, MEMBERS, FORECAST_DAYS), made each morning"""

    et0_mm: Floats
    rain_mm: Floats
    forecast_et0_mm: Floats
    forecast_rain_mm: Floats


def simulate_season(climate: Climate, days: int, rng: np.random.Generator) -> Season:
    """The weather of a season and every morning's ensemble forecast of it."""
    mean, rise, after_dry, after_wet, depth = FIGURES[climate]
    more = days + FORECAST_DAYS
    base = mean - rise + 2 * rise * np.sin(np.pi * np.arange(more) / more)
    noise, wet = np.zeros(more), np.zeros(more, bool)
    for d in range(1, more):
        noise[d] = 0.6 * noise[d - 1] + rng.normal(0, 0.6)
        wet[d] = rng.random() < (after_wet if wet[d - 1] else after_dry)
    rain = np.where(wet, np.round(rng.gamma(0.9, depth / 0.9, more), 1), 0.0)
    et0 = np.clip(base + noise - 1.2 * wet, 0.8, 11.0)
    forecasts = [
        simulate_forecast(
            et0[d : d + FORECAST_DAYS], rain[d : d + FORECAST_DAYS], after_dry, depth, rng
        )
        for d in range(days)
    ]
    return Season(
        et0_mm=et0[:days],
        rain_mm=rain[:days],
        forecast_et0_mm=np.array([f for f, _ in forecasts]),
        forecast_rain_mm=np.array([f for _, f in forecasts]),
    )


def simulate_forecast(
    et0_mm: Floats, rain_mm: Floats, wet_chance: float, wet_mm: float, rng: np.random.Generator
) -> tuple[Floats, Floats]:
    """A morning's ensemble of the days that will come.

    Parameters
    ----------
    et0_mm, rain_mm : array, shape (days,) [mm/day]
        What comes in truth.
    wet_chance, wet_mm : float
        How often it rains in the climate, and how much on such a day [mm].

    Returns
    -------
    tuple of arrays, shape (MEMBERS, days) [mm/day]
        ET0 and rain. The forecast starts near what comes and loses it with lead: the error of
        ET0 grows, and after about a week a member's rain is the climate's own.
    """
    lead = np.arange(et0_mm.size)
    shape = (MEMBERS, lead.size)
    # Errors wander within a member, so that it stays too high or too low for days.
    error = np.cumsum(rng.normal(0, 0.28, shape), axis=1) + rng.normal(0, 0.25)
    own = np.where(rng.random(shape) < wet_chance, rng.gamma(0.9, wet_mm / 0.9, shape), 0.0)
    keeps = rng.random(shape) < np.exp(-lead / 4.5) * 0.92
    scaled = rain_mm * rng.lognormal(0, 0.15 + 0.06 * lead, shape)
    return np.clip(et0_mm + error, 0.5, 12.0), np.where(keeps, scaled, own)
