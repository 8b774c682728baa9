"""Daily weather of a farm."""

from typing import Any, ClassVar

from django.db import models

from server.farms.models import Farm
from server.farms.scope import FarmOwned


class WeatherDay(FarmOwned):
    """Reference ET on the grass surface and rain of one local day [mm], its lowest and highest
    air temperature [degrees C]; null is unknown."""

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="weather_days")
    date = models.DateField()
    et0_mm = models.FloatField(null=True, blank=True)
    t_min_c = models.FloatField(null=True, blank=True)
    t_max_c = models.FloatField(null=True, blank=True)
    rain_mm = models.FloatField(null=True, blank=True)
    source = models.CharField(max_length=80)

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "date"], name="one_weather_per_day"),
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
