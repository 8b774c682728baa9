"""The weather of years gone by."""

from datetime import date, timedelta

import numpy as np

from core.weather.years import WeatherRecord
from server.farms.models import Farm
from server.weather.models import WeatherDay

# Weather from further back is left out.
YEARS_BACK = 15


def weather_record(farm: Farm, on: date) -> WeatherRecord:
    """The weather of the years before a day."""
    rows = WeatherDay.objects.for_farm(farm).filter(
        date__gte=on - timedelta(days=round(365.25 * YEARS_BACK)), date__lt=on
    )
    found = list(rows.order_by("date").values_list("date", "et0_mm", "rain_mm"))
    return WeatherRecord(
        day=np.array([d.toordinal() for d, _, _ in found], dtype=int),
        of_year=np.array([d.timetuple().tm_yday for d, _, _ in found], dtype=int),
        et0_mm=np.array([np.nan if e is None else e for _, e, _ in found], dtype=float),
        rain_mm=np.array([np.nan if r is None else r for _, _, r in found], dtype=float),
    )
