"""Wind of the days ahead, by the forecast in force."""

from datetime import datetime, time
from zoneinfo import ZoneInfo

import numpy as np

from core.arrays import Floats
from core.plan.wind import slot_wind
from server.farms.models import Farm
from server.plan.clock import hours_between
from server.weather.forecasts import forecast_row


def wind_ahead(farm: Farm, now: datetime, first_at: datetime) -> Floats:
    """The strongest hour of each slot of a plan that begins at a midnight [m/s], shape (slots,);
    NaN where no forecast tells."""
    row = forecast_row(farm, now)
    if row is None:
        return slot_wind(np.zeros(0), 0.0)
    begins = datetime.combine(row.first_day, time(), tzinfo=ZoneInfo(farm.time_zone))
    return slot_wind(np.array(row.wind_m_s, dtype=float), hours_between(first_at, begins))
