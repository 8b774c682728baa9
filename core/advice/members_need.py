"""What the members of blocks use and get on the days ahead."""

import numpy as np

from core.advice.days_ahead import RAIN_HOUR, entering
from core.advice.gather import Gathered
from core.arrays import Floats
from core.estimate.ahead import CASES
from core.outlook.forecast import Forecast, scores
from core.state.daylight import used_by
from core.state.track import Track


def members_weather(
    forecast: Forecast, hour_of_day: float, days: int
) -> tuple[Floats, Floats, Floats]:
    """Whole days of the members' ET0, their rain, and the share of each day's use that is still to
    come; arrays (CASES, days), (CASES, days) [mm/day] and (days,) [-]."""
    course = np.arange(CASES) * forecast.et0_mm.shape[0] // CASES
    left = np.ones(days)
    left[0] = 1.0 - float(used_by(hour_of_day))
    whole, rain = (x[course, :days] for x in (forecast.et0_mm, forecast.rain_mm))
    if hour_of_day >= RAIN_HOUR:
        # Today's fell already, or did not.
        rain[:, 0] = 0.0
    return whole, rain, left


def members_need(g: Gathered, found: Track, days: int) -> tuple[Floats, Floats]:
    """Crop use without stress, and rain that enters with what rises from below, by the days of the
    farm's calendar, of today what is still to come; two arrays (blocks, CASES, days) [mm]."""
    ahead = slice(g.past_days, g.past_days + days)
    whole, rain, left = members_weather(g.forecast, g.hour_of_day, days)
    et0 = whole * left
    factor = found.use_factor[:, -1:] + found.use_sigma[:, -1:] * scores(CASES, 2)
    use = np.maximum(factor, 0.0)[..., None] * g.kc[:, None, ahead] * et0[None]
    use = use + g.surface.bare_mm[:, None, ahead] * left
    shares = np.array([b.assumed.wetted_share for b in g.blocks])
    water = entering(g, rain, whole) * shares[:, None, None] + g.rise_mm[:, None, ahead] * left
    return use, water
