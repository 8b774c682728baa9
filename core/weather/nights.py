"""When the sun is below the horizon."""

from datetime import UTC, datetime, timedelta

import numpy as np

from core.weather.radiation import sun_angle

# Near enough to shade a chart by [min].
STEP_MIN = 5


def nights(
    latitude_deg: float, longitude_deg: float, begin: datetime, end: datetime
) -> list[tuple[datetime, datetime]]:
    """Stretches without sun between two moments, to five minutes; one that is under way at either
    is cut there.

    Parameters
    ----------
    longitude_deg : float [degrees, east positive]
    begin, end : datetime
        With their offsets; the moments found have that of ``begin``.
    """
    first = begin.astimezone(UTC)
    count = round((end - begin) / timedelta(minutes=STEP_MIN))
    moments = [first + k * timedelta(minutes=STEP_MIN) for k in range(count)]
    day = np.array([m.timetuple().tm_yday for m in moments])
    hour = np.array([m.hour + m.minute / 60 for m in moments])
    # The middle of each step speaks for it.
    dark = sun_angle(latitude_deg, longitude_deg, day, hour + STEP_MIN / 120) < 0
    edges = np.flatnonzero(np.diff(np.concatenate([[False], dark, [False]]).astype(int)))
    at = [(first + int(k) * timedelta(minutes=STEP_MIN)).astimezone(begin.tzinfo) for k in edges]
    return list(zip(at[::2], at[1::2], strict=True))
