"""A block's ensemble as it stood one morning, to go on from without the season before it."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from core.arrays import Floats
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.ensemble import COUNTERS
from core.estimate.ground import BlockGround
from core.estimate.member import FACTORS
from core.estimate.news import REMEMBERED
from core.estimate.notes import NOTES


@dataclass(frozen=True)
class Checkpoint:
    """State at six in the morning of a day, and what was noted on the way to it.

    ground : name of the ground that it is of
    members : array, shape (figures, members), float32
    memory : array, shape (sensors, REMEMBERED); counters : array, shape (COUNTERS,)
    notes : array, shape (steps, NOTES), float32, of the steps before it, the last one ends there
    """

    on: date
    ground: bytes
    members: Floats
    memory: Floats
    counters: Floats
    notes: Floats

    def fits(self, ground: BlockGround) -> bool:
        """Whether it is of this ground."""
        return (
            self.ground == ground.name
            and self.members.shape[0] == _figures(ground)
            and self.memory.shape == (ground.sensors, REMEMBERED)
            and self.counters.shape == (COUNTERS,)
            and self.notes.shape[1:] == (NOTES,)
        )

    def restore(self, ensembles: Ensembles, row: int) -> None:
        """Put the state in the place of a block that begins."""
        figures, sensors = self.members.shape[0], self.memory.shape[0]
        ensembles.members[row, :figures] = self.members
        ensembles.memory[row, :sensors] = self.memory
        ensembles.counters[row] = self.counters


def _figures(ground: BlockGround) -> int:
    return 3 * ground.layers + FACTORS + 2 * ground.sensors


def take(ensembles: Ensembles, grounds: Grounds, row: int, on: date, notes: Floats) -> Checkpoint:
    """The state of one block, which stands at the morning of ``on``."""
    ground = grounds.blocks[row]
    return Checkpoint(
        on=on,
        ground=ground.name,
        members=ensembles.members[row, : _figures(ground)].astype(np.float32),
        memory=ensembles.memory[row, : ground.sensors].copy(),
        counters=ensembles.counters[row].copy(),
        notes=notes.astype(np.float32),
    )
