"""Plans of less water than the crop could use."""

from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from core.crop.season import Stage
from core.deficit.plan import DeficitPlan, StageWater
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_block


class LessWater(FarmOwned):
    """A block's plan; ``stages`` holds by stage either ``use_share`` or ``allowed`` [-]."""

    farm_path = "block__farm"
    touches = of_block(first=NO_MORNING)

    block = models.OneToOneField(Block, on_delete=models.CASCADE, related_name="less_water")
    stages = models.JSONField(default=dict)
    since = models.DateField(null=True, blank=True)
    application_mm = models.FloatField(null=True, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            bounded("since", "less_water_since", is_moment=False, may_be_null=True)
        ]

    def __str__(self) -> str:
        return f"less water for {self.block}"

    @property
    def plan(self) -> DeficitPlan:
        """The plan as the core takes it.

        Raises
        ------
        DeficitProblem
        """
        return DeficitPlan(
            stages={Stage(s): StageWater(**water) for s, water in self.stages.items()},
            since=self.since,
            application_mm=self.application_mm,
        )


def less_water_of(block: Block) -> LessWater | None:
    """A block's plan of less water; None where it has none."""
    found: LessWater | None = getattr(block, "less_water", None)
    return found
