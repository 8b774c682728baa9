"""What a crop uses from now until it is ripe, over courses that the weather may take.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 6: Kc over the four stages of the season.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import Crop


@dataclass(frozen=True)
class RestOfSeason:
    """A crop from now to the end of its season.

    crop : with its Kc on the surface of the ET
    book_day : float, of the crop's calendar
    use_factor : float [-], of Kc ET
    rain_share : float [-], of the ground that counts
    """

    crop: Crop
    book_day: float
    use_factor: float
    rain_share: float


def use_factor(crop: Crop, book_day: float, use_mm: Floats, et0_mm_day: float) -> float:
    """A crop's use on the days ahead over Kc times a usual ET0 [-]; ``use_mm`` (members, days), of
    today a part."""
    book = float(crop.kc_on(book_day + np.arange(1, use_mm.shape[1])).sum()) * et0_mm_day
    return float(use_mm[:, 1:].mean(axis=0).sum()) / book if book > 0 else 1.0


def days_left(rest: RestOfSeason) -> int:
    """Days to the end of a crop's season, today's included."""
    return max(int(np.ceil(sum(rest.crop.stage_days) - rest.book_day)), 0)


def use_and_rain(rest: RestOfSeason, et0: Floats, rain: Floats) -> tuple[Floats, Floats]:
    """Use and rain of each day [mm], nothing after the season; arrays (courses, days) [1]_."""
    days = et0.shape[1]
    at = rest.book_day + np.arange(days)
    kc = rest.crop.kc_on(at) * (at < rest.crop.stage_ends[-1])
    return kc * rest.use_factor * et0, np.broadcast_to(rain * rest.rain_share, et0.shape)


def courses_to_end(
    rest: RestOfSeason, near: tuple[Floats, Floats], years: tuple[Floats, Floats]
) -> tuple[Floats, Floats]:
    """Use and rain until a crop is ripe: by the forecast as far as it goes, then by the weather of
    the years before; arrays, shape (members, days) [mm].

    Parameters
    ----------
    near : two arrays, shape (members, days), use and rain by the forecast
    years : two arrays, shape (years, days), ET0 and rain, at least as many days as are left
    """
    days = days_left(rest)
    members = near[0].shape[0]
    # A member takes the same year each time, and each year comes as often as another.
    of = np.arange(members) % years[0].shape[0]
    et0, rain = (x[of, :days] for x in years)
    far = use_and_rain(rest, et0, rain)
    known = min(near[0].shape[1], days)
    use, falls = (np.array(x) for x in far)
    use[:, :known], falls[:, :known] = near[0][:, :known], near[1][:, :known]
    return use, falls
