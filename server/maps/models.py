"""What stands on the farm's plan beside the blocks."""

from typing import Any, ClassVar

from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.soils.models import SoilProfile
from server.surveys.models import SoilSurvey


class FeatureKind(models.TextChoices):
    SOIL_ZONE = "soil zone"
    PIPE = "pipe"
    PUMP = "pump"
    INSTRUMENT = "instrument"
    TREE_LINE = "tree line"
    FENCE = "fence"
    TRACK = "track"
    BUILDING = "building"
    WET_SPOT = "wet spot"
    SPRING = "spring"
    NO_PROBE = "no probe"
    PIVOT = "pivot"
    GATE = "gate"
    BASE_STATION = "base station"


class MapFeature(FarmOwned):
    """A thing on the plan; ``geometry`` is GeoJSON in WGS 84, longitude first.

    A soil zone has its ``soil`` where that is known, and the ``survey`` that it came from.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="map_features")
    kind = models.CharField(max_length=12, choices=FeatureKind)
    name = models.CharField(max_length=80)
    geometry = models.JSONField()
    soil = models.ForeignKey(
        SoilProfile, on_delete=models.SET_NULL, null=True, related_name="zones"
    )
    survey = models.ForeignKey(
        SoilSurvey, on_delete=models.SET_NULL, null=True, related_name="map_features"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["kind", "name"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", "kind", Lower("name"), name="map_feature_name_once")
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.name}"
