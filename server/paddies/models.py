"""Bunded rice fields: a block that has one is watered as ponded rice."""

from datetime import date
from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from core.ponded.field import (
    HIGHEST_BUND_MM,
    LOWEST_BUND_MM,
    REFILL_TO_MM,
    SAFE_THRESHOLD_MM,
    THRESHOLDS_MM,
    PondedField,
    Started,
)
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_block


class Paddy(FarmOwned):
    """A block within its bunds; levels above the ground, below zero under it [mm].

    ``threshold_since`` is the date from which a person allows so deep a drying; ``nitrogen`` holds
    the dates of dressings that are planned, and ``nitrogen_done`` of those that are done.
    """

    farm_path = "block__farm"
    touches = of_block(first=NO_MORNING)

    block = models.OneToOneField(Block, on_delete=models.CASCADE, related_name="paddy")
    bund_mm = models.FloatField()
    started = models.CharField(
        max_length=16, choices=[(str(s), str(s)) for s in Started], default=Started.TRANSPLANTED
    )
    threshold_mm = models.FloatField(default=SAFE_THRESHOLD_MM)
    threshold_since = models.DateField(null=True, blank=True)
    refill_to_mm = models.FloatField(default=REFILL_TO_MM)
    keep_ponded_until = models.DateField(null=True, blank=True)
    drying_from = models.DateField(null=True, blank=True)
    percolation_mm_day = models.FloatField(null=True, blank=True)
    porosity = models.FloatField(null=True, blank=True)
    nitrogen = models.JSONField(default=list, blank=True)
    nitrogen_done = models.JSONField(default=list, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(bund_mm__range=(LOWEST_BUND_MM, HIGHEST_BUND_MM)),
                name="paddy_bund_in_range",
            ),
            models.CheckConstraint(
                condition=models.Q(threshold_mm__in=THRESHOLDS_MM), name="paddy_threshold_known"
            ),
            *(
                bounded(name, f"paddy_{name}", is_moment=False, may_be_null=True)
                for name in ("threshold_since", "keep_ponded_until", "drying_from")
            ),
        ]

    def __str__(self) -> str:
        return f"{self.block} within bunds of {self.bund_mm:g} mm"

    @property
    def field(self) -> PondedField:
        """The field as the core takes it.

        Raises
        ------
        PondedProblem
        """
        return PondedField(
            bund_mm=self.bund_mm,
            started=Started(self.started),
            threshold_mm=self.threshold_mm,
            threshold_since=self.threshold_since,
            refill_to_mm=self.refill_to_mm,
            keep_ponded_until=self.keep_ponded_until,
            drying_from=self.drying_from,
            percolation_mm_day=self.percolation_mm_day,
            porosity=self.porosity,
            nitrogen_on=tuple(date.fromisoformat(d) for d in self.nitrogen),
        )


def paddy_of(block: Block) -> Paddy | None:
    """The bunded field of a block; None where it has none."""
    found: Paddy | None = getattr(block, "paddy", None)
    return found
