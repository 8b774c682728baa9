"""Stretches in which a block is not to be watered, and how a set is moved around them."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class HoldKind(StrEnum):
    """Why water has to wait."""

    CUTTING = "cutting"
    DRYING = "drying"
    HARVEST = "harvest"
    SPRAY = "spray"
    FERTILISER = "fertiliser"
    WIND = "wind"
    FROST = "frost"
    NO_ALLOCATION = "no_allocation"
    FIELD_WORK = "field_work"
    GRAZING = "grazing"


@dataclass(frozen=True)
class Hold:
    """From ``start_hours`` until before ``end_hours`` [h from now], start below end."""

    start_hours: float
    end_hours: float
    kind: HoldKind

    def __post_init__(self) -> None:
        if not self.start_hours < self.end_hours:
            raise ValueError("a hold ends after it starts")


@dataclass(frozen=True)
class Moved:
    """A start after holds were respected [h from now], the hold that moved it last, and whether
    the set goes before that hold rather than after it."""

    start_hours: float
    hold: Hold | None = None
    goes_before: bool = False


def around_holds(
    start_hours: float, run_hours: float, earliest_hours: float, holds: Sequence[Hold]
) -> Moved:
    """Move a set out of the holds that it would run into.

    Parameters
    ----------
    start_hours : float [h from now]
        Latest start that the soil allows.
    run_hours : float [h]
        How long the set runs.
    earliest_hours : float [h from now]
        From when a set is worth giving.
    holds : sequence of Hold

    Returns
    -------
    Moved
        Before the first hold in the way, where the set is worth giving by then and ends in
        time; else after it, and after any that follows without room between.
    """
    moved = Moved(start_hours)
    for hold in sorted(holds, key=lambda h: h.start_hours):
        at = moved.start_hours
        if at >= hold.end_hours or at + run_hours <= hold.start_hours:
            continue
        before = hold.start_hours - run_hours
        if moved.hold is None and before >= max(earliest_hours, 0.0):
            return Moved(before, hold, goes_before=True)
        moved = Moved(hold.end_hours, hold)
    return moved
