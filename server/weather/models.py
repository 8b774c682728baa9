"""Daily weather of a farm."""

from typing import Any, ClassVar

from django.contrib.postgres.fields import ArrayField
from django.db import models
from simple_history.models import HistoricalRecords

from server.base.moment import bounded
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_farm


class WeatherDay(FarmOwned):
    """Reference ET on the grass surface and rain of one local day [mm], its lowest and highest
    air temperature [degrees C]; null is unknown.

    ``measured`` keeps what else the station told, as it was read, and ``et_method`` how the ET
    came of it: its name, with what was filled in for lack of an instrument.
    """

    # A day's ET0 and rain are heard of by the morning after it.
    touches = of_farm(first="{row}.date + 1")

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="weather_days")
    date = models.DateField()
    et0_mm = models.FloatField(null=True, blank=True)
    t_min_c = models.FloatField(null=True, blank=True)
    t_max_c = models.FloatField(null=True, blank=True)
    rain_mm = models.FloatField(null=True, blank=True)
    source = models.CharField(max_length=80)
    measured = models.JSONField(default=dict, blank=True)
    et_method = models.CharField(max_length=120, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "date"], name="one_weather_per_day"),
            bounded("date", "weather_on_record", is_moment=False),
            models.CheckConstraint(
                condition=(models.Q(et0_mm__isnull=True) | models.Q(et0_mm__gte=0, et0_mm__lte=20))
                & (models.Q(rain_mm__isnull=True) | models.Q(rain_mm__gte=0, rain_mm__lte=500)),
                name="weather_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(t_min_c__isnull=True)
                | models.Q(t_max_c__isnull=True)
                | models.Q(t_min_c__gte=-60, t_max_c__gte=models.F("t_min_c"), t_max_c__lte=60),
                name="weather_temperatures_in_order",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.farm} {self.date}"


class WeatherForecast(FarmOwned):
    """An ensemble forecast as it was issued: reference ET on the grass surface and rain [mm/day],
    by member and local day from ``first_day`` on, one member after the other. ``wind_m_s`` is the
    expected wind at 2 m by the hour from that day's midnight on; empty where nobody tells."""

    touches = of_farm(first=NO_MORNING)

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="forecasts")
    issued_at = models.DateTimeField()
    first_day = models.DateField()
    members = models.PositiveSmallIntegerField()
    et0_mm = ArrayField(models.FloatField())
    rain_mm = ArrayField(models.FloatField())
    wind_m_s = ArrayField(models.FloatField(), default=list)
    source = models.CharField(max_length=80)

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["farm", "-issued_at"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "issued_at"], name="one_forecast_per_issue"),
            models.CheckConstraint(
                condition=models.Q(members__gt=0)
                & models.Q(et0_mm__len=models.F("rain_mm__len"), et0_mm__len__gt=0),
                name="forecast_whole",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.farm} {self.issued_at:%Y-%m-%d %H:%M}"
