"""Instruments in the ground and their channels, one per depth."""

from typing import Any, ClassVar

from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from core.instrument.kinds import InstrumentKind
from server.blocks.models import Block
from server.farms.scope import FarmOwned


class Instrument(FarmOwned):
    """One instrument, or a set of tensiometers at one spot."""

    farm_path = "block__farm"

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="instruments")
    label = models.CharField(max_length=80)
    kind = models.CharField(max_length=24, choices=[(str(k), str(k)) for k in InstrumentKind])

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("block", Lower("label"), name="instrument_label_once")
        ]

    def __str__(self) -> str:
        return f"{self.label} in {self.block}"


class Channel(FarmOwned):
    """What an instrument reads at one depth [mm]; ``suspect`` once a person doubts it."""

    farm_path = "instrument__block__farm"

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="channels")
    depth_mm = models.FloatField()
    suspect = models.BooleanField(default=False)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["instrument", "depth_mm"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["instrument", "depth_mm"], name="channel_depth_once"),
            models.CheckConstraint(
                condition=models.Q(depth_mm__gt=0, depth_mm__lte=5000), name="channel_depth_range"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.instrument} at {self.depth_mm:g} mm"
