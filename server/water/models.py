"""Water given to blocks."""

from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from server.blocks.models import Block
from server.farms.scope import FarmOwned


class Irrigation(FarmOwned):
    """One set as it ran; gross depth over the block [mm]."""

    farm_path = "block__farm"

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="irrigations")
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField()
    gross_mm = models.FloatField()

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["block", "started_at"])]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(gross_mm__gt=0, ended_at__gt=models.F("started_at")),
                name="irrigation_sensible",
            )
        ]

    def __str__(self) -> str:
        return f"{self.gross_mm:g} mm on {self.block}"


class CatchCanTest(FarmOwned):
    """Cans set out in a block: what each caught [mm], and on a pivot its distance [m]."""

    farm_path = "block__farm"

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="catch_can_tests")
    on = models.DateField()
    catch_mm = models.JSONField()
    distance_m = models.JSONField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "-on", "-pk"]

    def __str__(self) -> str:
        return f"cans in {self.block} on {self.on}"
