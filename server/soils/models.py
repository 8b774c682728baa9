"""Soil profiles of a farm and their horizons."""

from typing import Any, ClassVar

from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from core.soil.horizon import CurveShape, LimitMethod
from core.soil.texture import TextureClass
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.farms.touches import of_soil
from server.surveys.models import SoilSurvey


class SoilProfile(FarmOwned):
    """A soil of the farm; several blocks may share one.

    A soil that blocks stand on is never changed: a new description takes its name, and the old
    one stays, ``superseded``, for the days it was in force. One of a ``survey`` was not seen by
    anybody on this farm; described anew from what was seen, it is of no survey.
    """

    touches = of_soil("{row}.id")

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="soil_profiles")
    name = models.CharField(max_length=120)
    note = models.CharField(max_length=500, blank=True)
    superseded = models.BooleanField(default=False)
    survey = models.ForeignKey(
        SoilSurvey, on_delete=models.SET_NULL, null=True, blank=True, related_name="soil_profiles"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(
                "farm",
                Lower("name"),
                condition=models.Q(superseded=False),
                name="soil_name_once",
            )
        ]

    def __str__(self) -> str:
        return self.name


class Horizon(FarmOwned):
    """A horizon; fractions in percent, depths in mm, contents in m3/m3 of the fine earth.

    ``points`` are measured pairs [tension kPa, content]; ``theta_full`` and ``theta_wilt`` are
    limits learned in the field; density in g/cm3, salinity ECe in dS/m.
    """

    farm_path = "profile__farm"
    touches = of_soil("{row}.profile_id")

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
    bulk_density = models.FloatField(null=True, blank=True)
    ece = models.FloatField(null=True, blank=True)
    stops_roots = models.BooleanField(default=False)
    note = models.CharField(max_length=200, blank=True)
    method = models.CharField(
        max_length=12,
        choices=[(str(m), str(m)) for m in LimitMethod],
        default=str(LimitMethod.REGRESSION),
    )
    curve = models.CharField(
        max_length=12, blank=True, choices=[(str(c), str(c)) for c in CurveShape]
    )
    full_tension_kpa = models.FloatField(null=True, blank=True)
    points = models.JSONField(default=list, blank=True)
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
                condition=(
                    models.Q(bulk_density__isnull=True)
                    | models.Q(bulk_density__gte=0.2, bulk_density__lte=2.2)
                )
                & (models.Q(ece__isnull=True) | models.Q(ece__gte=0, ece__lte=100)),
                name="horizon_density_and_salt_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(theta_full__isnull=True)
                | models.Q(theta_full__gt=models.F("theta_wilt"), theta_wilt__gt=0),
                name="horizon_full_above_wilting",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.profile} {self.top_mm:g}-{self.bottom_mm:g} mm"
