"""A season's record followed once, for the mornings from which later ones may go on."""

from collections.abc import Sequence
from datetime import date

from core.advice.gather import gather
from core.advice.inputs import BlockInputs
from core.advice.state_now import state_of
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint


def replay(
    blocks: Sequence[BlockInputs], seasons: Sequence[CropSeason], mornings: Sequence[date]
) -> tuple[tuple[Checkpoint, ...], ...]:
    """Checkpoints of each block at the mornings asked for and at yesterday's, the oldest first;
    none where the sensors lead.

    Parameters
    ----------
    blocks, seasons : sequences, (blocks,)
        As `decide` wants them, with all of their record.
    mornings : sequence of date
    """
    return state_of(gather(blocks, seasons), mornings=mornings).checkpoints
