"""Rounds on foot: which instruments in which order, and what was found at each."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.instruments.models import Instrument
from server.readings.models import ReadingBatch


class Round(FarmOwned):
    """A walk past instruments, every so many days."""

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="rounds")
    name = models.CharField(max_length=80)
    every_days = models.PositiveSmallIntegerField(default=7)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="round_name_once")
        ]

    def __str__(self) -> str:
        return self.name


class RoundStop(FarmOwned):
    """An instrument's place in the walking order."""

    farm_path = "round__farm"
    touches = None

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="stops")
    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="stops")
    place = models.PositiveIntegerField()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["place"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["round", "instrument"], name="stop_once")
        ]

    def __str__(self) -> str:
        return f"{self.instrument} in {self.round}"


class Visit(FarmOwned):
    """What a person found at an instrument. ``key`` is made on the phone: sent again, it is known.

    ``skipped`` is the reason why nothing was read; empty where it was.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="visits")
    key = models.UUIDField(unique=True)
    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="visits")
    round = models.ForeignKey(Round, on_delete=models.SET_NULL, null=True, related_name="visits")
    at = models.DateTimeField()
    skipped = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=500, blank=True)
    batch = models.ForeignKey(ReadingBatch, on_delete=models.SET_NULL, null=True, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["instrument", "-at"])]

    def __str__(self) -> str:
        return f"{self.instrument} on {self.at:%Y-%m-%d %H:%M}"
