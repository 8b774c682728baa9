"""Who waters simulated fields: by habit, each field for itself."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from core.arrays import Floats
from core.events.supply import Supply


@dataclass(frozen=True)
class Run:
    """Water on one field: what came in each hour from ``start_hour`` of the season on [mm], and
    what was logged of it; None where nobody did."""

    field: int
    start_hour: int
    came_mm: Floats
    logged: Supply | None


class Irrigator(Protocol):
    """Decides each morning what is given."""

    def runs(self, day: int, missing_mm: Floats) -> Iterable[Run]:
        """What begins on a day; ``missing_mm`` (fields,) of the roots' water [mm]."""


@dataclass(frozen=True)
class Habit:
    """How one field is watered.

    It is due when so much of the roots' water is missing [mm], and gets that times ``share`` at
    ``rate_mm_h`` from ``start_hour`` on.
    """

    due_mm: float
    share: float
    rate_mm_h: float
    start_hour: int


class ByHabit:
    """Each field by its own habit; ``arrives`` (fields,) is the share that truly comes [-]."""

    def __init__(self, habits: Sequence[Habit], arrives: Floats, seed: int) -> None:
        self._habits, self._arrives = habits, arrives
        self._rng = np.random.default_rng(seed)

    def runs(self, day: int, missing_mm: Floats) -> Iterable[Run]:
        """See `Irrigator`."""
        for of, habit in enumerate(self._habits):
            if missing_mm[of] < habit.due_mm:
                continue
            logged = float(missing_mm[of]) * habit.share
            evenly = np.clip(self._rng.normal(1, 0.05), 0.8, 1.2)
            came = logged * float(self._arrives[of] * evenly)
            start = 24 * day + habit.start_hour
            lasts = max(round(logged / habit.rate_mm_h), 1)
            told = Supply(float(start), float(start + lasts), logged)
            yield Run(of, start, np.full(lasts, came / lasts), told)
