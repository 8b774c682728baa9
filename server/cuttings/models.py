"""Calendars of cuts and grazings."""

from collections.abc import Sequence
from datetime import date
from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from core.crop.cutting import CutCalendar, Harvested
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_farm

LONGEST_NAME = 40


class CutPlan(FarmOwned):
    """When a block's growth is cut or grazed.

    ``planned`` holds settled dates; ``rotation`` names the paddocks that are grazed one after the
    other, in the order of ``place``; empty where the block stands alone.
    """

    farm_path = "block__farm"
    # The others of a rotation move with it.
    touches = of_farm("(SELECT farm_id FROM blocks_block WHERE id = {row}.block_id)", NO_MORNING)

    block = models.OneToOneField(Block, on_delete=models.CASCADE, related_name="cut_plan")
    harvested = models.CharField(
        max_length=8, choices=[(str(h), str(h)) for h in Harvested], default=Harvested.CUT
    )
    planned = models.JSONField(default=list, blank=True)
    every_days = models.PositiveSmallIntegerField(null=True, blank=True)
    last_on = models.DateField(null=True, blank=True)
    dry_before_days = models.PositiveSmallIntegerField(default=3)
    taken_days = models.PositiveSmallIntegerField(null=True, blank=True)
    rotation = models.CharField(max_length=LONGEST_NAME, blank=True)
    place = models.PositiveSmallIntegerField(default=1)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            bounded("last_on", "cut_plan_last_on", is_moment=False, may_be_null=True)
        ]

    def __str__(self) -> str:
        return f"{self.block} is {self.harvested} by a calendar"

    def calendar(self, more: Sequence[date] = ()) -> CutCalendar:
        """The calendar as the core takes it, with dates that its rotation brings.

        Raises
        ------
        CalendarProblem
        """
        settled = {date.fromisoformat(d) for d in self.planned} | set(more)
        # A paddock of a rotation is grazed when its turn comes, and not by an interval.
        every = None if self.rotation else self.every_days
        return CutCalendar(
            harvested=Harvested(self.harvested),
            planned=tuple(sorted(settled)),
            every_days=every,
            last_on=self.last_on,
            dry_before_days=self.dry_before_days,
            taken_days=self.taken_days,
        )


def cut_plan_of(block: Block) -> CutPlan | None:
    """The calendar of a block's cuts or grazings; None where it has none."""
    found: CutPlan | None = getattr(block, "cut_plan", None)
    return found
