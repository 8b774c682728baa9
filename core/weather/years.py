"""Weather to come as it was in the years before.

References
----------
.. [1] Lall, U. & Sharma, A. (1996), A nearest neighbor bootstrap for resampling hydrologic time
   series, Water Resources Research 32: weather to come is put together from pieces of what was on
   record at that time of year. Here pieces of ten days, drawn alike.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats

# Years of weather that are put together; so many that the eighth of ten is told to a twentieth.
YEARS = 40
# Weather of ten days on end stays together: dry spells last [days].
PIECE_DAYS = 10
# So far from its day of the year a piece may come [days]; further where nothing nearer is known.
NEAR_DAYS, FAR_DAYS = 20, 45


@dataclass(frozen=True)
class WeatherRecord:
    """Days on record in their order; NaN is not known.

    day : array of int, shape (days,), counted from any day that all are counted from
    of_year : array of int, shape (days,), day of the year
    et0_mm, rain_mm : arrays, shape (days,) [mm/day]
    """

    day: np.ndarray
    of_year: np.ndarray
    et0_mm: Floats
    rain_mm: Floats


def years_to_come(
    record: WeatherRecord, of_year: int, days: int, seed: int
) -> tuple[Floats, Floats] | None:
    """Courses that the weather may take from a day of the year on [1]_.

    Returns
    -------
    tuple or None
        ET0 and rain, arrays, shape (YEARS, days) [mm/day]; None where nothing is on record for
        some time of the year.
    """
    starts = _starts(record)
    rng = np.random.default_rng(seed)
    et0, rain = [], []
    for piece in range(-(-days // PIECE_DAYS)):
        away = record.of_year[starts] - (of_year + piece * PIECE_DAYS)
        away = np.abs((away + 182) % 365 - 182)
        fit = starts[away <= NEAR_DAYS]
        if not fit.size:
            fit = starts[away <= FAR_DAYS]
        if not fit.size:
            return None
        rows = rng.choice(fit, YEARS)[:, None] + np.arange(PIECE_DAYS)
        et0.append(record.et0_mm[rows])
        rain.append(record.rain_mm[rows])
    return np.concatenate(et0, axis=1)[:, :days], np.concatenate(rain, axis=1)[:, :days]


def _starts(record: WeatherRecord) -> np.ndarray:
    """Places in a record from which ten days on end are known."""
    last = record.day.size - PIECE_DAYS + 1
    if last <= 0:
        return np.zeros(0, dtype=int)
    whole = np.isfinite(record.et0_mm) & np.isfinite(record.rain_mm)
    known = np.concatenate([[0], np.cumsum(whole)])
    all_known = known[PIECE_DAYS:] - known[:last] == PIECE_DAYS
    on_end = record.day[PIECE_DAYS - 1 :] - record.day[:last] == PIECE_DAYS - 1
    return np.flatnonzero(all_known & on_end)
