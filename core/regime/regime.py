"""What every rule of watering answers, whatever it is that a block's store is."""

from collections.abc import Sequence
from typing import Protocol

from core.advice.answer import Assessment
from core.advice.history import History
from core.advice.inputs import BlockInputs
from core.advice.learned import Learned
from core.advice.needs_ahead import NeedsAhead
from core.advice.season_course import SeasonCourse
from core.limits.in_force import LimitsInForce


class RegimeOf(Protocol):
    """A rule of watering, for blocks that are watered by it.

    Every store is told in the same way: usable water above the lowest point that the rule allows,
    and how much the store holds above it at most [mm over the block]; so one board ranks them all.
    """

    def answers(self, blocks: Sequence[BlockInputs], past: bool) -> tuple[Assessment, ...]:
        """Store, limits, outlook and advice of blocks of one farm at one instant; with ``past`` the
        days behind as well, to be drawn."""
        ...

    def answer(self, inputs: BlockInputs) -> Assessment:
        """One block's answer with its working."""
        ...

    def needs(self, blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
        """What blocks hold and lose on the days ahead, for a plan of all of them."""
        ...

    def past(self, inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
        """Soil limits and the store behind, to be drawn on the soil profile; None where the store
        is not the soil's."""
        ...

    def course(self, inputs: BlockInputs) -> SeasonCourse | None:
        """The season's soil store by day; None where the store is not the soil's."""
        ...

    def learned(self, inputs: BlockInputs) -> Learned | None:
        """What the field has shown of the soil's limits; None where the store is not the soil's."""
        ...
