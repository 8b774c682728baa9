"""Water given to blocks."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from core.advice.holds import HoldKind
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_block


class Irrigation(FarmOwned):
    """One set: planned, running, or as it ran; gross depth over the block [mm].

    While it is planned or runs, times and depth are what is meant; once done, what was. What
    was planned stays beside it. ``share`` is the part of the block that was watered [-], over
    which the depth is spread. Where the water moves over the block, ``place_from`` and
    ``place_to`` are shares of the way [-], null its start and what ``share`` comes to, and
    ``positions`` where the machine was seen, see `server.water.passes.SeenAt`. Meter readings
    [m3] are those at its start and end; ``together`` joins sets that one act gave to several
    blocks.
    """

    class Status(models.TextChoices):
        PLANNED = "planned"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"

    class AmountFrom(models.TextChoices):
        HOURS = "hours"
        METER = "meter"
        DEPTH = "depth"

    farm_path = "block__farm"
    touches = of_block(first="advice_first_morning({row}.started_at, b.farm_id)")

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="irrigations")
    status = models.CharField(max_length=10, choices=Status, default=Status.DONE)
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField()
    gross_mm = models.FloatField()
    share = models.FloatField(default=1)
    place_from = models.FloatField(null=True, blank=True)
    place_to = models.FloatField(null=True, blank=True)
    positions = models.JSONField(default=list, blank=True)
    amount_from = models.CharField(max_length=6, choices=AmountFrom, default=AmountFrom.HOURS)
    planned_start_at = models.DateTimeField(null=True, blank=True)
    planned_gross_mm = models.FloatField(null=True, blank=True)
    meter_start_m3 = models.FloatField(null=True, blank=True)
    meter_end_m3 = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    together = models.UUIDField(null=True, blank=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["block", "started_at"])]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(
                    gross_mm__gt=0,
                    ended_at__gt=models.F("started_at"),
                    share__gt=0,
                    share__lte=1,
                ),
                name="irrigation_sensible",
            ),
            bounded("started_at", "irrigation_start_on_record"),
            bounded("ended_at", "irrigation_end_on_record"),
            models.CheckConstraint(
                condition=(
                    (models.Q(place_from__isnull=True) | models.Q(place_from__range=(0, 1)))
                    & (models.Q(place_to__isnull=True) | models.Q(place_to__range=(0, 1)))
                ),
                name="irrigation_places_on_the_way",
            ),
            models.CheckConstraint(
                condition=models.Q(status__in=["planned", "running", "done", "cancelled"]),
                name="irrigation_status_known",
            ),
            models.CheckConstraint(
                condition=models.Q(meter_start_m3__isnull=True)
                | models.Q(meter_end_m3__isnull=True)
                | models.Q(meter_start_m3__gte=0, meter_end_m3__gt=models.F("meter_start_m3")),
                name="irrigation_meter_runs_forward",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.gross_mm:g} mm on {self.block}, {self.status}"


class Hold(FarmOwned):
    """A stretch in which a block is not to be watered, with why."""

    farm_path = "block__farm"
    touches = of_block(first=NO_MORNING)

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="holds")
    kind = models.CharField(max_length=16, choices=[(str(k), str(k)) for k in HoldKind])
    starts_at = models.DateTimeField()
    ends_at = models.DateTimeField()
    note = models.CharField(max_length=300, blank=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "starts_at"]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(ends_at__gt=models.F("starts_at")), name="hold_ends_after_start"
            ),
            bounded("starts_at", "hold_start_on_record"),
            bounded("ends_at", "hold_end_on_record"),
            models.CheckConstraint(
                condition=models.Q(kind__in=[str(k) for k in HoldKind]), name="hold_kind_known"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.block}: {self.kind} {self.starts_at:%Y-%m-%d}"


class CatchCanTest(FarmOwned):
    """Cans set out in a block: what each caught [mm], and on a pivot its distance [m]."""

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="catch_can_tests")
    on = models.DateField()
    catch_mm = models.JSONField()
    distance_m = models.JSONField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "-on", "-pk"]
        constraints: ClassVar[list[Any]] = [bounded("on", "cans_on_record", is_moment=False)]

    def __str__(self) -> str:
        return f"cans in {self.block} on {self.on}"
