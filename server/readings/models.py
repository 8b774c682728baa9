"""Readings as they were taken: natural key (channel, time), raw value and unit."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from core.instrument.reading_units import ReadingUnit
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.instruments.models import Channel


class ReadingBatch(FarmOwned):
    """One arrival of readings: who brought them, when, from where, and what became of them."""

    class Origin(models.TextChoices):
        FILE = "file"
        HAND = "hand"
        SIMULATED = "simulated"

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="reading_batches")
    origin = models.CharField(max_length=12, choices=Origin)
    file_name = models.CharField(max_length=255, blank=True)
    sha256 = models.CharField(max_length=64, blank=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    new = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    unchanged = models.PositiveIntegerField(default=0)

    class Meta(FarmOwned.Meta):
        pass

    def __str__(self) -> str:
        return f"{self.origin} {self.file_name} {self.made_at:%Y-%m-%d}"


class Reading(FarmOwned):
    """A raw reading in its own unit; derived values are always computed from it."""

    farm_path = "channel__instrument__block__farm"

    pk = models.CompositePrimaryKey("channel_id", "time")
    channel = models.ForeignKey(Channel, on_delete=models.CASCADE, related_name="readings")
    time = models.DateTimeField()
    value = models.FloatField()
    unit = models.CharField(max_length=10, choices=[(str(u), str(u)) for u in ReadingUnit])
    batch = models.ForeignKey(ReadingBatch, on_delete=models.PROTECT, related_name="readings")

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(unit__in=[str(u) for u in ReadingUnit]),
                name="reading_unit_known",
            )
        ]

    def __str__(self) -> str:
        return f"{self.value:g} {self.unit} at {self.time:%Y-%m-%d %H:%M}"


class ReadingRevision(FarmOwned):
    """What a reading said before another arrival changed it."""

    farm_path = "channel__instrument__block__farm"

    channel = models.ForeignKey(Channel, on_delete=models.CASCADE, related_name="+")
    time = models.DateTimeField()
    value = models.FloatField()
    unit = models.CharField(max_length=10)
    batch = models.ForeignKey(ReadingBatch, on_delete=models.PROTECT, related_name="+")
    replaced_by = models.ForeignKey(
        ReadingBatch, on_delete=models.PROTECT, related_name="revisions"
    )

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["channel", "time"])]

    def __str__(self) -> str:
        return f"was {self.value:g} {self.unit} at {self.time:%Y-%m-%d %H:%M}"
