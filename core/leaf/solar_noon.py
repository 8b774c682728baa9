"""Solar noon of a place on a day.

References
----------
.. [1] Spencer, J. W. (1971), Fourier series representation of the position of the sun, Search
   2(5):172: the equation of time, within half a minute.
"""

from datetime import UTC, date, datetime, time, timedelta
from math import cos, pi, sin

MINUTES_PER_DEGREE = 4.0


def equation_of_time_min(on: date) -> float:
    """How much the sun is ahead of the clock of its own meridian on a day [minutes] [1]_."""
    turn = 2 * pi * (on.timetuple().tm_yday - 1) / 365
    return 229.18 * (
        0.000075
        + 0.001868 * cos(turn)
        - 0.032077 * sin(turn)
        - 0.014615 * cos(2 * turn)
        - 0.040849 * sin(2 * turn)
    )


def solar_noon(on: date, longitude: float) -> datetime:
    """The moment at which the sun stands highest on a day; in UTC.

    Parameters
    ----------
    on : date
        The day by the sun of the place.
    longitude : float [degrees], east positive
    """
    minutes = 720.0 - MINUTES_PER_DEGREE * longitude - equation_of_time_min(on)
    return datetime.combine(on, time(), tzinfo=UTC) + timedelta(minutes=minutes)
