"""Dryings that a field went through, and whether it may be dried more deeply."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from math import isinf

import numpy as np

from core.ponded.field import PondedField
from core.ponded.phases import Phase, PhaseDays
from core.ponded.tube import Tube

# A drying counts where a tube fell to the threshold or so near to it [mm] (working assumption).
NEAR_MM = 20.0
# Dryings without harm at one threshold before the next is offered.
CYCLES_BEFORE_DEEPER = 2
# No deeper threshold is begun so soon before flowering [days] (working assumption).
BEFORE_FLOWERING_DAYS = 14


@dataclass(frozen=True)
class Drying:
    """From the day a tube last stood ponded to the reading that found it ponded again.

    ended_on : None while it goes on
    deepest_mm : the lowest level that was read [mm]
    """

    began_on: date
    ended_on: date | None
    deepest_mm: float


class NotDeeper(StrEnum):
    """Why a deeper threshold is not allowed."""

    DEEPEST = "deepest"
    FEW_CYCLES = "few_cycles"
    NOT_DRYING = "not_drying"
    FLOWERING_NEAR = "flowering_near"


def dryings(tubes: Sequence[Tube], today: date, hour_of_day: float) -> tuple[Drying, ...]:
    """Dryings by the mean of the tubes read on each day, oldest first.

    Parameters
    ----------
    today, hour_of_day : of now, by the farm's clock
    """
    own = [t.good for t in tubes]
    hours = np.concatenate([h for h, _ in own]) if own else np.empty(0)
    level_mm = np.concatenate([x for _, x in own]) if own else np.empty(0)
    days, at = np.unique(np.floor((hours + hour_of_day) / 24).astype(int), return_inverse=True)
    mean = np.bincount(at, level_mm, days.size) / np.maximum(
        np.bincount(at, minlength=days.size), 1
    )
    out: list[Drying] = []
    began, deepest, ponded_on = None, 0.0, None
    for day, level in zip(days.tolist(), mean.tolist(), strict=True):
        on = today + timedelta(days=day)
        if level >= 0:
            if began is not None:
                out.append(Drying(began, on, deepest))
            began, ponded_on = None, on
        elif began is None:
            began, deepest = ponded_on or on, level
        else:
            deepest = min(deepest, level)
    if began is not None:
        out.append(Drying(began, None, deepest))
    return tuple(out)


def cycles_at(found: Sequence[Drying], threshold_mm: float, since: date | None) -> int:
    """How many dryings reached a threshold and were flooded again.

    Parameters
    ----------
    since : date or None
        From which the threshold is in force; dryings that began before it do not count.
    """
    return sum(
        d.ended_on is not None
        and d.deepest_mm <= threshold_mm + NEAR_MM
        and (since is None or d.began_on >= since)
        for d in found
    )


def why_not_deeper(
    field: PondedField, cycles: int, phases: PhaseDays, today: date
) -> NotDeeper | None:
    """Why the next deeper threshold is not to be allowed today; None where it may be.

    Never in flowering or so near before it that the drying would reach into it.
    """
    if isinf(field.next_threshold_mm):
        return NotDeeper.DEEPEST
    if phases.phase((today - phases.first).days) is not Phase.WETTING_AND_DRYING:
        return NotDeeper.NOT_DRYING
    if 0 <= (phases.flowering_on - today).days < BEFORE_FLOWERING_DAYS:
        return NotDeeper.FLOWERING_NEAR
    if cycles < CYCLES_BEFORE_DEEPER:
        return NotDeeper.FEW_CYCLES
    return None
