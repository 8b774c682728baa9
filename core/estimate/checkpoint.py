"""A block's ensemble as it stood one morning, to go on from without the season before it."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from core.arrays import Floats
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.ensemble import COUNTERS, NOTES, REMEMBERED
from core.estimate.ground import BlockGround
from core.estimate.member import FACTORS


@dataclass(frozen=True)
class Checkpoint:
    """State at six in the morning of a day, and what was noted on the way to it.

    first, on : dates of the first step and of the state
    members : array, shape (figures, members), float32
    memory : array, shape (sensors, REMEMBERED); counters : array, shape (COUNTERS,)
    notes : array, shape (steps, NOTES), float32, from the first step to the state
    """

    first: date
    on: date
    members: Floats
    memory: Floats
    counters: Floats
    notes: Floats

    def fits(self, ground: BlockGround, first: date) -> bool:
        """Whether it is of this ground, and reaches back to a day."""
        figures = 3 * ground.layers + FACTORS + 2 * ground.sensors
        return (
            self.members.shape[0] == figures
            and self.memory.shape == (ground.sensors, REMEMBERED)
            and self.counters.shape == (COUNTERS,)
            and self.notes.shape[1:] == (NOTES,)
            and self.first <= first
        )

    def notes_since(self, first: date, steps_a_day: int) -> Floats:
        """What was noted from a day on."""
        return self.notes[(first - self.first).days * steps_a_day :]

    def restore(self, ensembles: Ensembles, row: int) -> None:
        """Put the state in the place of a block that begins."""
        figures, sensors = self.members.shape[0], self.memory.shape[0]
        ensembles.members[row, :figures] = self.members
        ensembles.memory[row, :sensors] = self.memory
        ensembles.counters[row] = self.counters


def take(
    ensembles: Ensembles, grounds: Grounds, row: int, first: date, on: date, notes: Floats
) -> Checkpoint:
    """The state of one block, which stands at the morning of ``on``."""
    ground = grounds.blocks[row]
    figures = 3 * ground.layers + FACTORS + 2 * ground.sensors
    return Checkpoint(
        first=first,
        on=on,
        members=ensembles.members[row, :figures].astype(np.float32),
        memory=ensembles.memory[row, : ground.sensors].copy(),
        counters=ensembles.counters[row].copy(),
        notes=notes.astype(np.float32),
    )
