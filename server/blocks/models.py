"""Blocks: the pieces of land that are watered as one, with their crop and equipment."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from core.irrigation.system import SystemKind
from core.state.estimate_from import EstimateFrom
from server.base.moment import bounded
from server.crops.models import FarmCrop
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.farms.touches import of_block


class Block(FarmOwned):
    """A block; area in m2, depths in mm gross, rate in mm/h or flow in m3/h; ``water_ecw``
    is the salt of its irrigation water [dS/m].

    ``design`` holds the figures of its irrigation system that the rate was worked out from;
    ``outline`` is a GeoJSON feature in WGS 84, kept as it came, ``outline_m2`` its area on the
    ellipsoid. ``estimate_from`` says whether sensors or balance lead; ``dual`` counts what bare wet
    soil gives off apart from the crop; ``capillary_mm_day`` is what rises from below where no depth
    of the water table is known, ``water_table_mm`` that depth as far as no observation well tells.
    ``little_and_often`` waters each day what was used.
    ``supply`` is where its water comes from, ``irrigator`` who waters it. Without an instrument in
    its soil it is told by those of the block that it ``borrows_from``.
    """

    touches = of_block("{row}.id")

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="blocks")
    name = models.CharField(max_length=80)
    area_m2 = models.FloatField()
    slope_percent = models.FloatField(default=1)
    outline = models.JSONField(null=True, blank=True)
    outline_m2 = models.FloatField(null=True, blank=True)
    system_kind = models.CharField(max_length=24, choices=[(str(k), str(k)) for k in SystemKind])
    rate_mm_h = models.FloatField(null=True, blank=True)
    flow_m3_h = models.FloatField(null=True, blank=True)
    design = models.JSONField(default=dict, blank=True)
    efficiency = models.FloatField()
    smallest_mm = models.FloatField(default=0)
    largest_mm = models.FloatField(null=True, blank=True)
    rain_room_mm = models.FloatField(default=0)
    water_ecw = models.FloatField(null=True, blank=True)
    estimate_from = models.CharField(
        max_length=8,
        choices=[(str(w), str(w)) for w in EstimateFrom],
        default=str(EstimateFrom.COMBINED),
    )
    dual = models.BooleanField(default=False)
    capillary_mm_day = models.FloatField(default=0)
    water_table_mm = models.FloatField(null=True, blank=True)
    little_and_often = models.BooleanField(default=False)
    supply = models.CharField(max_length=60, blank=True)
    irrigator = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )

    borrows_from = models.ForeignKey(
        "self", on_delete=models.SET_NULL, null=True, blank=True, related_name="lends_to"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="block_name_once"),
            models.CheckConstraint(condition=models.Q(area_m2__gt=0), name="block_area_positive"),
            models.CheckConstraint(
                condition=models.Q(estimate_from__in=[str(w) for w in EstimateFrom]),
                name="block_estimate_from_known",
            ),
            models.CheckConstraint(
                condition=models.Q(water_ecw__isnull=True)
                | models.Q(water_ecw__gte=0, water_ecw__lte=50),
                name="block_water_salt_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(capillary_mm_day__gte=0, capillary_mm_day__lte=20),
                name="block_capillary_rise_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(water_table_mm__isnull=True)
                | models.Q(water_table_mm__gte=0, water_table_mm__lte=10_000),
                name="block_water_table_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(slope_percent__gte=0, slope_percent__lte=100),
                name="block_slope_in_range",
            ),
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
    """A crop in a block from its planting or bud break: of the book, or the farm's own."""

    class Clock(models.TextChoices):
        DAYS = "days"
        DEGREE_DAYS = "degree-days"

    farm_path = "block__farm"
    touches = of_block()

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="seasons")
    crop_key = models.CharField(max_length=40, blank=True)
    farm_crop = models.ForeignKey(
        FarmCrop, null=True, blank=True, on_delete=models.PROTECT, related_name="seasons"
    )
    planted_on = models.DateField()
    clock = models.CharField(max_length=12, choices=Clock, default=Clock.DAYS)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "planted_on"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "planted_on"], name="one_crop_per_date"),
            bounded("planted_on", "season_on_record", is_moment=False),
            models.CheckConstraint(
                condition=models.Q(farm_crop__isnull=True) ^ models.Q(crop_key=""),
                name="season_book_or_own_crop",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.farm_crop or self.crop_key} in {self.block} from {self.planted_on}"


class EventKind(models.TextChoices):
    STAGE = "stage"
    COVER = "cover"
    CUT = "cut"


class SeasonEvent(FarmOwned):
    """Something seen or done in a season: a stage, a ground cover, a cut or grazing."""

    farm_path = "season__block__farm"
    touches = of_block("(SELECT block_id FROM blocks_cropseason WHERE id = {row}.season_id)")

    season = models.ForeignKey(CropSeason, on_delete=models.CASCADE, related_name="events")
    kind = models.CharField(max_length=8, choices=EventKind)
    on = models.DateField()
    stage_key = models.CharField(max_length=24, blank=True)
    cover = models.FloatField(null=True, blank=True)
    height_m = models.FloatField(null=True, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["season", "on", "pk"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["season", "kind", "on"], name="one_event_a_day"),
            bounded("on", "season_event_on_record", is_moment=False),
            models.CheckConstraint(
                condition=(models.Q(kind="stage") & ~models.Q(stage_key=""))
                | models.Q(
                    kind="cover",
                    cover__gte=0,
                    cover__lte=1,
                    height_m__gte=0,
                    height_m__lte=40,
                )
                | models.Q(kind="cut"),
                name="season_event_complete",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.stage_key} on {self.on}"
