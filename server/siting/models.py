"""Layers of blocks for siting probes, the files they came from, and the spots that were chosen."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from core.siting.hand_check import HandWay
from core.siting.layer import LayerKind
from core.siting.purpose import Purpose
from core.siting.soil_zones import ZoneSource
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.instruments.models import Instrument
from server.soils.models import SoilProfile


class LayerFileState(models.TextChoices):
    LOOKING = "looking"
    LOOKED = "looked"
    STORING = "storing"
    STORED = "stored"
    FAILED = "failed"


# A worker is at such a file, or will be.
AT_WORK = (LayerFileState.LOOKING, LayerFileState.STORING)


class LayerFile(FarmOwned):
    """A file of yield points, a survey or a grid, from its upload to the layers made of it.

    ``look`` is what was found in it at first sight, ``reading`` how it is to be read, by a guess or
    a person; ``done`` of ``total`` blocks are ready while it is stored, ``report`` says what became
    of its points.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="layer_files")
    file_name = models.CharField(max_length=255)
    sha256 = models.CharField(max_length=64)
    size = models.BigIntegerField()
    state = models.CharField(max_length=10, choices=LayerFileState, default=LayerFileState.LOOKING)
    attempts = models.PositiveSmallIntegerField(default=0)
    look = models.JSONField(null=True)
    reading = models.JSONField(null=True)
    report = models.JSONField(null=True)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    problem = models.CharField(max_length=500, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [
            models.Index(fields=["farm", "-made_at"]),
            models.Index(
                fields=["state"],
                condition=models.Q(state__in=list(AT_WORK)),
                name="layer_file_at_work",
            ),
        ]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(state__in=list(LayerFileState.values)),
                name="layer_file_state_known",
            )
        ]

    def __str__(self) -> str:
        return f"{self.file_name} ({self.state})"


class LayerFilePiece(FarmOwned):
    """A piece of an uploaded file, kept with the data so that any worker reaches it."""

    farm_path = "layer_file__farm"
    touches = None

    layer_file = models.ForeignKey(LayerFile, on_delete=models.CASCADE, related_name="pieces")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["layer_file", "number"], name="layer_piece_once")
        ]

    def __str__(self) -> str:
        return f"piece {self.number}"


class SitingLayer(FarmOwned):
    """One layer of one block.

    ``points`` are the file's points in the block and near it, packed (see `packing`); ``grid`` the
    values and errors on the block's raster, by its cells. ``cleaning`` are the settings that a
    person changed, ``put_back`` and ``put_aside`` points by their places. ``facts`` say how it was
    gridded and what was dropped. ``outline_m2`` is the area that the raster was made over: another
    one means that the block was drawn anew.
    """

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="siting_layers")
    layer_file = models.ForeignKey(LayerFile, on_delete=models.CASCADE, related_name="layers")
    kind = models.CharField(max_length=24, choices=[(str(k), str(k)) for k in LayerKind])
    name = models.CharField(max_length=80)
    year = models.PositiveSmallIntegerField(null=True)
    unit = models.CharField(max_length=16, blank=True)
    rain_mm = models.FloatField(null=True)
    points = models.BinaryField()
    point_count = models.PositiveIntegerField()
    grid = models.BinaryField()
    cell_m = models.FloatField()
    outline_m2 = models.FloatField()
    cleaning = models.JSONField(default=dict)
    put_back = models.JSONField(default=list)
    put_aside = models.JSONField(default=list)
    facts = models.JSONField()
    used = models.BooleanField(default=True)

    history = HistoricalRecords(excluded_fields=["points", "grid"])

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "kind", "year", "name", "pk"]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(kind__in=[str(k) for k in LayerKind]),
                name="siting_layer_kind_known",
            ),
            models.CheckConstraint(
                condition=models.Q(year__isnull=True) | models.Q(year__range=(1950, 2100)),
                name="siting_layer_year_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(rain_mm__isnull=True) | models.Q(rain_mm__range=(0, 20_000)),
                name="siting_layer_rain_in_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.name} of {self.block}"


class RainYear(FarmOwned):
    """Rain of a year on the farm [mm], as a person entered it."""

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="rain_years")
    year = models.PositiveSmallIntegerField()
    rain_mm = models.FloatField()

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["farm", "year"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "year"], name="rain_year_once"),
            models.CheckConstraint(
                condition=models.Q(year__range=(1950, 2100), rain_mm__range=(0, 20_000)),
                name="rain_year_in_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.rain_mm:g} mm in {self.year}"


class SitingSettings(FarmOwned):
    """How spots of a block are looked for: zones, purpose, and what a probe keeps away from.

    ``distances`` are metres by kind of exclusion, where they differ from the usual. ``zones_from``
    says what zones are made of. ``zone_names``, ``merged`` (zone by zone that goes with it),
    ``zone_edits`` (areas given to a zone) and ``zone`` (that a person chose, from 0) are by the
    numbers of ``zones_were``: the zones as they were then, before any merge or edit, so that they
    are known again after a layer changed. ``base_height_m`` is the height of the base station's
    antenna over the ground.
    """

    farm_path = "block__farm"
    touches = None

    block = models.OneToOneField(Block, on_delete=models.CASCADE, related_name="siting")
    purpose = models.CharField(
        max_length=12, choices=[(str(p), str(p)) for p in Purpose], default=str(Purpose.BLOCK)
    )
    zone_count = models.PositiveSmallIntegerField(null=True)
    zones_from = models.CharField(
        max_length=8, choices=[(str(z), str(z)) for z in ZoneSource], default=str(ZoneSource.LAYERS)
    )
    zones_were = models.BinaryField(null=True)
    zone_names = models.JSONField(default=list)
    merged = models.JSONField(default=dict)
    zone_edits = models.JSONField(default=list)
    zone = models.PositiveSmallIntegerField(null=True)
    distances = models.JSONField(default=dict)
    lane_spacing_m = models.FloatField(null=True)
    row_heading = models.FloatField(null=True)
    tower_spacing_m = models.FloatField(null=True)
    flood_level_m = models.FloatField(null=True)
    base_height_m = models.FloatField(default=4.0)

    history = HistoricalRecords(excluded_fields=["zones_were"])

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(zone_count__isnull=True) | models.Q(zone_count__range=(1, 6)),
                name="siting_zone_count_in_range",
            ),
        ]

    def __str__(self) -> str:
        return f"siting of {self.block}"


class ProbeSpot(FarmOwned):
    """A spot that a person chose for a probe. ``position`` is [longitude, latitude]; ``found`` what
    the score was made of when it was chosen; ``instrument`` what was put there. ``soil`` is as a
    core of ``core_on`` showed it."""

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="probe_spots")
    name = models.CharField(max_length=80)
    position = models.JSONField()
    purpose = models.CharField(max_length=12, choices=[(str(p), str(p)) for p in Purpose])
    score = models.FloatField(null=True)
    found = models.JSONField(default=dict)
    why = models.CharField(max_length=300)
    instrument = models.ForeignKey(
        Instrument, on_delete=models.SET_NULL, null=True, related_name="spots"
    )
    soil = models.ForeignKey(
        SoilProfile, on_delete=models.SET_NULL, null=True, related_name="spots"
    )
    core_on = models.DateField(null=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "made_at", "pk"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "name"], name="probe_spot_name_once"),
        ]

    def __str__(self) -> str:
        return f"{self.name} in {self.block}"


class SpotCheck(FarmOwned):
    """What was found by hand beside a probe, and what it said then."""

    farm_path = "spot__block__farm"
    touches = None

    spot = models.ForeignKey(ProbeSpot, on_delete=models.CASCADE, related_name="checks")
    at = models.DateTimeField()
    way = models.CharField(max_length=20, choices=[(str(w), str(w)) for w in HandWay])
    note = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["spot", "at", "pk"]
        constraints: ClassVar[list[Any]] = [bounded("at", "spot_check_on_record")]

    def __str__(self) -> str:
        return f"check of {self.spot} on {self.at:%Y-%m-%d}"


class SpotCheckDepth(FarmOwned):
    """One depth of a check [mm]; contents in m3/m3, the sensor's null where it said nothing."""

    farm_path = "spot_check__spot__block__farm"
    touches = None

    spot_check = models.ForeignKey(SpotCheck, on_delete=models.CASCADE, related_name="depths")
    depth_mm = models.FloatField()
    by_hand = models.FloatField()
    sensor = models.FloatField(null=True)

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["spot_check", "depth_mm"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["spot_check", "depth_mm"], name="check_depth_once"),
            models.CheckConstraint(
                condition=models.Q(depth_mm__gt=0, depth_mm__lte=5000, by_hand__range=(0, 1)),
                name="check_depth_in_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.depth_mm:g} mm of {self.spot_check}"


class SpotDecision(FarmOwned):
    """That a probe stays where it is or is moved, and why.

    ``difference`` and ``spread`` [-] are how it lay to the mean of ``sites`` probes over ``days``
    days when that was decided; null where too little was known.
    """

    farm_path = "spot__block__farm"
    touches = None

    spot = models.ForeignKey(ProbeSpot, on_delete=models.CASCADE, related_name="decisions")
    kept = models.BooleanField()
    why = models.CharField(max_length=300)
    moved_to = models.ForeignKey(
        ProbeSpot, on_delete=models.SET_NULL, null=True, related_name="moved_here"
    )
    difference = models.FloatField(null=True)
    spread = models.FloatField(null=True)
    sites = models.PositiveSmallIntegerField(null=True)
    days = models.PositiveSmallIntegerField(null=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["spot", "made_at", "pk"]

    def __str__(self) -> str:
        return f"{self.spot} {'kept' if self.kept else 'moved'}"
