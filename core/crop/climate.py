"""The climate that a crop stands in, and what it makes of a crop coefficient.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 6, eq. 62 and 65; ch. 7, eq. 70 and 72.
"""

from dataclasses import dataclass
from datetime import date

import numpy as np

from core.arrays import ArrayLike, Floats

# The climate that the tables of [1]_ stand for.
USUAL_WIND_M_S, USUAL_RH_MIN = 2.0, 45.0
# What the equations were fitted within [1]_: m/s, percent, m.
WIND_RANGE, RH_MIN_RANGE, HEIGHT_RANGE = (1.0, 6.0), (20.0, 80.0), (0.1, 10.0)
LEAST_KC = 0.45  # a coefficient below it stays as it is [1]_
# A growth stage has one mean in [1]_; here the days before each day stand for it, so that a day
# that is over keeps its coefficient. Of so many days so many must be measured (working
# assumptions, no source).
MEAN_DAYS, LEAST_DAYS = 30, 10


def climate_term(wind_m_s: ArrayLike, rh_min: ArrayLike, height_m: ArrayLike) -> Floats:
    """What a climate adds to a coefficient of the middle or the end of a season [1]_ [-].

    Parameters
    ----------
    wind_m_s : array [m/s]
        Mean at 2 m; counted within 1-6.
    rh_min : array [percent]
        Mean of the day's lowest humidity; counted within 20-80.
    height_m : array [m]
        Of the crop; counted within 0.1-10.
    """
    wind = np.clip(np.asarray(wind_m_s, float), *WIND_RANGE)
    humidity = np.clip(np.asarray(rh_min, float), *RH_MIN_RANGE)
    height = np.clip(np.asarray(height_m, float), *HEIGHT_RANGE)
    dry = 0.04 * (wind - USUAL_WIND_M_S) - 0.004 * (humidity - USUAL_RH_MIN)
    out: Floats = dry * (height / 3) ** 0.3
    return out


def _means_before(values: Floats) -> Floats:
    """Mean of the days before each day; NaN where too few are known. One longer than the values:
    the last is of the day after them."""
    known = ~np.isnan(values)
    total = np.concatenate([[0.0], np.cumsum(np.where(known, values, 0.0))])
    count = np.concatenate([[0], np.cumsum(known)])
    end = np.arange(values.size + 1)
    start = np.maximum(end - MEAN_DAYS, 0)
    days = count[end] - count[start]
    enough = days >= LEAST_DAYS
    return np.where(enough, (total[end] - total[start]) / np.where(enough, days, 1), np.nan)


@dataclass(frozen=True)
class Climate:
    """Wind and lowest humidity as they were when a day began.

    first : the day of the first value; the last one holds for all days after it
    wind_m_s, rh_min : arrays (days,), means of the days before each [m/s at 2 m, percent];
        NaN where too little was measured
    """

    first: date
    wind_m_s: Floats
    rh_min: Floats

    @classmethod
    def before_days(cls, first: date, wind_m_s: Floats, rh_min: Floats) -> "Climate":
        """From what was measured day by day.

        Parameters
        ----------
        first : date
        wind_m_s, rh_min : arrays, shape (days,)
            Of each day from the first on; NaN where not measured.
        """
        both = np.isnan(wind_m_s) | np.isnan(rh_min)
        return cls(
            first,
            _means_before(np.where(both, np.nan, wind_m_s)),
            _means_before(np.where(both, np.nan, rh_min)),
        )

    def on(self, first: date, days: int) -> tuple[Floats, Floats]:
        """Wind [m/s] and lowest humidity [percent] of days from one on, arrays (days,); the
        tables' own where they are not known, which changes no coefficient."""
        at = np.arange(days) + (first - self.first).days
        inside = np.clip(at, 0, self.wind_m_s.size - 1)
        wind, humidity = self.wind_m_s[inside], self.rh_min[inside]
        unknown = (at < 0) | np.isnan(wind)
        return (
            np.where(unknown, USUAL_WIND_M_S, wind),
            np.where(unknown, USUAL_RH_MIN, humidity),
        )

    def known_on(self, day: date) -> bool:
        """Whether enough was measured before a day."""
        at = min((day - self.first).days, self.wind_m_s.size - 1)
        return at >= 0 and not np.isnan(self.wind_m_s[at])


def in_climate(kc: ArrayLike, term: ArrayLike) -> Floats:
    """Kc of the mid or late season in another climate than the table's, eq. 62 and 65 of [1]_.

    Parameters
    ----------
    kc : array [-]
        Of the table, for 2 m/s and 45 percent. One below 0.45 stays as it is.
    term : array [-]
        By `climate_term`.

    Returns
    -------
    array, broadcast shape [-]
    """
    book = np.asarray(kc, float)
    return np.where(book < LEAST_KC, book, book + np.asarray(term, float))
