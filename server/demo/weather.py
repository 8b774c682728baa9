"""Simulated weather of the demo, as recorded days."""

from datetime import date, timedelta

from core.world.weather import Weather
from server.farms.models import Farm
from server.weather.models import WeatherDay

SOURCE = "simulated"


def record_weather(farm: Farm, weather: Weather, first_day: date, days: int) -> None:
    """Put the first days of a simulated season on record."""
    WeatherDay.unscoped.bulk_create(
        WeatherDay(
            farm=farm,
            date=first_day + timedelta(days=d),
            et0_mm=float(weather.et0_mm[d]),
            rain_mm=float(weather.rain_mm[d]),
            t_min_c=float(weather.t_min_c[d]),
            t_max_c=float(weather.t_max_c[d]),
            source=SOURCE,
            et_method="simulated",
        )
        for d in range(days)
    )
