"""The answer for blocks of every regime: each block is asked of its own."""

from collections.abc import Callable, Mapping, Sequence
from typing import TypeVar

from core.advice.answer import Assessment
from core.advice.history import History
from core.advice.inputs import BlockInputs
from core.advice.learned import Learned
from core.advice.needs_ahead import NeedsAhead
from core.advice.season_course import SeasonCourse
from core.advice.vocabulary import Regime
from core.limits.in_force import LimitsInForce
from core.regime.above_refill import AboveRefill
from core.regime.cut_or_grazed import CutOrGrazed
from core.regime.deficit_rule import DeficitRule
from core.regime.leaf_rule import LeafRule
from core.regime.ponded import Ponded
from core.regime.regime import RegimeOf
from core.regime.soil_band import SoilBand

REGIMES: Mapping[Regime, RegimeOf] = {
    Regime.ABOVE_REFILL: AboveRefill(),
    Regime.PONDED: Ponded(),
    Regime.LEAF_GUIDED: SoilBand(LeafRule()),
    Regime.DEFICIT: SoilBand(DeficitRule()),
    Regime.CUT_OR_GRAZED: CutOrGrazed(),
}

Out = TypeVar("Out")


def regime_of(inputs: BlockInputs) -> RegimeOf:
    """The rule by which a block is watered."""
    return REGIMES[inputs.assumed.regime]


def _of_each(
    blocks: Sequence[BlockInputs],
    ask: Callable[[RegimeOf, Sequence[BlockInputs]], Sequence[Out]],
) -> tuple[Out, ...]:
    """What the regimes answer, in the order of the blocks."""
    out: dict[int, Out] = {}
    for kind, regime in REGIMES.items():
        rows = [k for k, b in enumerate(blocks) if b.assumed.regime is kind]
        if rows:
            out.update(zip(rows, ask(regime, [blocks[k] for k in rows]), strict=True))
    return tuple(out[k] for k in range(len(blocks)))


def assess(inputs: BlockInputs) -> Assessment:
    """Answer for one block with its working; see `assess_blocks`."""
    return regime_of(inputs).answer(inputs)


def assess_blocks(blocks: Sequence[BlockInputs], past: bool = True) -> tuple[Assessment, ...]:
    """Answers for blocks of one farm at one instant, without their working.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now`` and forecast; those of one regime are computed together.
    past : bool
        Whether the past days' ribbon is wanted.
    """
    return _of_each(blocks, lambda regime, some: regime.answers(some, past))


def needs_ahead(blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
    """What blocks hold and lose on the days ahead; None where nothing may be said of one."""
    return _of_each(blocks, lambda regime, some: regime.needs(some, days))


def block_past(inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
    """A block's soil limits and store over the past days; None where there is none."""
    return regime_of(inputs).past(inputs, days)


def season_course(inputs: BlockInputs) -> SeasonCourse | None:
    """The soil store of the season under way by day; None where there is none."""
    return regime_of(inputs).course(inputs)


def block_learned(inputs: BlockInputs) -> Learned | None:
    """What the field has shown of a block's soil limits; None where there is none."""
    return regime_of(inputs).learned(inputs)
