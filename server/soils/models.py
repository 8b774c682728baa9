"""Soil profiles of a farm and their horizons."""

from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from core.soil.horizon import LimitMethod
from core.soil.texture import TextureClass
from server.farms.models import Farm
from server.farms.scope import FarmOwned


class SoilProfile(FarmOwned):
    """A soil of the farm; several blocks may share one."""

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="soil_profiles")
    name = models.CharField(max_length=120)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "name"], name="soil_name_once")
        ]

    def __str__(self) -> str:
        return self.name


class Horizon(FarmOwned):
    """A horizon; fractions in percent, depths in mm, contents in m3/m3 of the fine earth."""

    farm_path = "profile__farm"

    profile = models.ForeignKey(SoilProfile, on_delete=models.CASCADE, related_name="horizons")
    top_mm = models.FloatField()
    bottom_mm = models.FloatField()
    sand = models.FloatField(null=True, blank=True)
    silt = models.FloatField(null=True, blank=True)
    clay = models.FloatField(null=True, blank=True)
    texture = models.CharField(
        max_length=20, blank=True, choices=[(str(t), str(t)) for t in TextureClass]
    )
    organic_matter = models.FloatField(default=1.5)
    gravel = models.FloatField(default=0)
    method = models.CharField(
        max_length=12,
        choices=[(str(m), str(m)) for m in LimitMethod],
        default=str(LimitMethod.REGRESSION),
    )
    theta_full = models.FloatField(null=True, blank=True)
    theta_wilt = models.FloatField(null=True, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["profile", "top_mm"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["profile", "top_mm"], name="horizon_top_once"),
            models.CheckConstraint(
                condition=models.Q(top_mm__gte=0, bottom_mm__gt=models.F("top_mm")),
                name="horizon_downward",
            ),
            models.CheckConstraint(
                condition=models.Q(
                    organic_matter__gte=0, organic_matter__lte=100, gravel__gte=0, gravel__lte=90
                ),
                name="horizon_shares_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(theta_full__isnull=True)
                | models.Q(theta_full__gt=models.F("theta_wilt"), theta_wilt__gt=0),
                name="horizon_full_above_wilting",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.profile} {self.top_mm:g}-{self.bottom_mm:g} mm"
