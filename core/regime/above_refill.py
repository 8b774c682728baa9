"""Crops that are kept out of stress: the soil's store is kept above its refill point."""

from collections.abc import Sequence

from core.advice import assess, needs_ahead, season_course
from core.advice.answer import Assessment
from core.advice.history import History
from core.advice.inputs import BlockInputs
from core.advice.learned import Learned
from core.advice.needs_ahead import NeedsAhead
from core.advice.season_course import SeasonCourse
from core.limits.in_force import LimitsInForce


class AboveRefill:
    """The soil store kept above refill, see `core.regime.regime.RegimeOf`."""

    def answers(self, blocks: Sequence[BlockInputs], past: bool) -> tuple[Assessment, ...]:
        """See `RegimeOf`."""
        return assess.assess_blocks(blocks, past)

    def answer(self, inputs: BlockInputs) -> Assessment:
        """See `RegimeOf`."""
        return assess.assess(inputs)

    def needs(self, blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
        """See `RegimeOf`."""
        return needs_ahead.needs_ahead(blocks, days)

    def past(self, inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
        """See `RegimeOf`."""
        return assess.block_past(inputs, days)

    def course(self, inputs: BlockInputs) -> SeasonCourse | None:
        """See `RegimeOf`."""
        return season_course.season_course(inputs)

    def learned(self, inputs: BlockInputs) -> Learned | None:
        """See `RegimeOf`."""
        return assess.block_learned(inputs)
