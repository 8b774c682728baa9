"""Blocks of several sites that are watered together, with faults planted in their water."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.events.supply import Supply
from core.world.irrigators import Habit, Run

# How a fading block loses its flow [days]; what soaks in of a run that is too fast for the soil:
# all of its first part [mm], then a share of the rate.
FADES_IN_DAYS = 45.0
SOAKS_MM, SOAKS_SHARE = 6.0, 0.35
EVENNESS = 0.05
# Of the runs of such blocks so many go wrong [-].
NOT_LOGGED_SHARE, NOT_RUN_SHARE = 0.5, 0.4


class Fault(StrEnum):
    """What goes wrong with the water of a block; ``NONE`` is a block that is well run."""

    NONE = "none"
    NOT_LOGGED = "not logged"
    NOT_RUN = "not run"
    SITE_DRY = "site dry"
    UNEVEN = "uneven"
    FADING = "fading"
    RATE = "rate"
    INTAKE = "intake"
    # Nothing is wrong, though it looks like it.
    LOGGED_LOOSELY = "logged loosely"
    LIGHT_RUNS = "light runs"
    VARYING_RUNS = "varying runs"


@dataclass(frozen=True)
class Plant:
    """A fault of a block from a day on; ``size`` is its share of the water [-]."""

    fault: Fault = Fault.NONE
    from_day: int = 0
    size: float = 1.0


class BlockIrrigator:
    """Waters blocks by the mean of their sites; the sites of block b are fields b * sites and on.

    Parameters
    ----------
    habits : sequence of Habit
    plants : sequence of Plant
        Of each block.
    sites : int
    arrives : array, shape (fields,)
        Share that truly comes [-].
    seed : int
    """

    def __init__(
        self,
        habits: Sequence[Habit],
        plants: Sequence[Plant],
        sites: int,
        arrives: Floats,
        seed: int,
    ) -> None:
        self._habits, self._plants, self._sites = habits, plants, sites
        self._arrives = arrives
        self._rng = np.random.default_rng(seed)
        self._planted: list[tuple[int, int]] = []
        self._came: list[tuple[int, float]] = []

    def habit(self, block: int) -> Habit:
        """How a block is watered."""
        return self._habits[block]

    def planted(self, block: int) -> list[int]:
        """Days on which a block's fault came about."""
        return [day for b, day in self._planted if b == block]

    def came(self, block: int) -> list[float]:
        """Share of the water of a block's runs that came, of all its sites [-]."""
        return [share for b, share in self._came if b == block]

    def runs(self, day: int, missing_mm: Floats) -> Iterable[Run]:
        """See `core.world.irrigators.Irrigator`."""
        mean = missing_mm.reshape(-1, self._sites).mean(axis=1)
        for b, (habit, plant) in enumerate(zip(self._habits, self._plants, strict=True)):
            if mean[b] >= habit.due_mm:
                yield from self._run(b, day, float(mean[b]), habit, plant)
            elif plant.fault is Fault.LIGHT_RUNS and day >= plant.from_day and day % 3 == 0:
                yield from self._given(b, day, 2.5, habit, plant)

    def _run(
        self, block: int, day: int, missing_mm: float, habit: Habit, plant: Plant
    ) -> Iterable[Run]:
        mm = missing_mm * habit.share
        if plant.fault in (Fault.INTAKE, Fault.VARYING_RUNS):
            mm *= self._rng.uniform(0.35, 1.15)
        yield from self._given(block, day, mm, habit, plant)

    def _given(self, block: int, day: int, mm: float, habit: Habit, plant: Plant) -> Iterable[Run]:
        rng = self._rng
        begun = day >= plant.from_day
        start = 24 * day + habit.start_hour
        lasts = max(round(mm / habit.rate_mm_h), 1)
        logged: Supply | None = Supply(float(start), float(start + lasts), mm)
        drawn = float(rng.uniform())
        common = float(np.clip(rng.normal(1, EVENNESS), 0.85, 1.15))
        if begun and plant.fault is Fault.LOGGED_LOOSELY:
            slip = float(rng.uniform(-0.9, 0.9))
            off = mm * float(np.clip(rng.normal(1, 0.08), 0.8, 1.2))
            logged = Supply(start + slip, start + slip + lasts, off)
        if begun and plant.fault is Fault.NOT_LOGGED and drawn < NOT_LOGGED_SHARE:
            logged = None
        hit = plant.fault is not Fault.NOT_LOGGED or logged is None
        hit &= plant.fault is not Fault.NOT_RUN or drawn < NOT_RUN_SHARE
        if begun and hit and plant.fault is not Fault.NONE:
            self._planted.append((block, day))
        for s in range(self._sites):
            field = block * self._sites + s
            each = np.full(lasts, mm / lasts * common * float(self._arrives[field]))
            each *= float(np.clip(rng.normal(1, EVENNESS), 0.85, 1.15))
            spoilt = self._spoil(each, s, day, drawn, plant)
            self._came.append((block, float(spoilt.sum() / max(each.sum(), 1e-9))))
            yield Run(field, start, spoilt, logged)

    def _spoil(self, each: Floats, site: int, day: int, drawn: float, plant: Plant) -> Floats:
        """What comes of a run at a site."""
        if day < plant.from_day:
            return each
        if plant.fault is Fault.NOT_RUN and drawn < NOT_RUN_SHARE:
            return 0 * each
        if plant.fault in (Fault.SITE_DRY, Fault.UNEVEN) and site == 0:
            return plant.size * each
        if plant.fault is Fault.RATE:
            return plant.size * each
        if plant.fault is Fault.FADING:
            gone = min((day - plant.from_day) / FADES_IN_DAYS, 1.0)
            return (1 - gone * (1 - plant.size)) * each
        if plant.fault is Fault.INTAKE:
            came = np.cumsum(each)
            soaked = np.minimum(came, SOAKS_MM + SOAKS_SHARE * np.maximum(came - SOAKS_MM, 0))
            return np.diff(soaked, prepend=0.0)
        return each
