"""Blocks: the pieces of land that are watered as one, with their crop and equipment."""

from typing import Any, ClassVar

from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from core.advice.vocabulary import School
from core.crop.catalogue import crops
from core.irrigation.system import SystemKind
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.soils.models import SoilProfile


class Block(FarmOwned):
    """A block; area in m2, depths in mm gross, rate in mm/h or flow in m3/h."""

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="blocks")
    name = models.CharField(max_length=80)
    area_m2 = models.FloatField()
    soil_profile = models.ForeignKey(SoilProfile, on_delete=models.PROTECT, related_name="blocks")
    system_kind = models.CharField(max_length=24, choices=[(str(k), str(k)) for k in SystemKind])
    rate_mm_h = models.FloatField(null=True, blank=True)
    flow_m3_h = models.FloatField(null=True, blank=True)
    efficiency = models.FloatField()
    smallest_mm = models.FloatField(default=0)
    largest_mm = models.FloatField(null=True, blank=True)
    rain_room_mm = models.FloatField(default=0)
    school = models.CharField(
        max_length=12, choices=[(str(s), str(s)) for s in School], default=str(School.CROP_P)
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="block_name_once"),
            models.CheckConstraint(condition=models.Q(area_m2__gt=0), name="block_area_positive"),
            models.CheckConstraint(
                condition=models.Q(rate_mm_h__gt=0, flow_m3_h__isnull=True)
                | models.Q(flow_m3_h__gt=0, rate_mm_h__isnull=True),
                name="block_rate_or_flow",
            ),
            models.CheckConstraint(
                condition=models.Q(efficiency__gt=0, efficiency__lte=1),
                name="block_efficiency_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(smallest_mm__gte=0, rain_room_mm__gte=0)
                & (
                    models.Q(largest_mm__isnull=True)
                    | models.Q(largest_mm__gte=models.F("smallest_mm"))
                ),
                name="block_sets_in_order",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class CropSeason(FarmOwned):
    """A crop of the catalogue in a block from a date."""

    farm_path = "block__farm"

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="seasons")
    crop_key = models.CharField(max_length=40, choices=[(k, c.name) for k, c in crops().items()])
    planted_on = models.DateField()

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "planted_on"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "planted_on"], name="one_crop_per_date")
        ]

    def __str__(self) -> str:
        return f"{self.crop_key} in {self.block} from {self.planted_on}"
