"""Paddocks that stock grazes one after the other."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta


@dataclass(frozen=True)
class Paddock:
    """A paddock of a rotation: days that stock stays in it, and when it last came; None never."""

    days: int
    last_on: date | None


def coming(paddocks: Sequence[Paddock], until: date) -> tuple[tuple[date, ...], ...]:
    """When stock comes to each paddock next, in their order, up to a day.

    Parameters
    ----------
    paddocks : sequence of Paddock
        In the order in which they are grazed; each for a day at least.

    Returns
    -------
    tuple of dates for each
        All empty where no paddock was grazed yet: nobody knows where the stock is.
    """
    out: list[list[date]] = [[] for _ in paddocks]
    grazed = [(p.last_on, k) for k, p in enumerate(paddocks) if p.last_on is not None]
    if not grazed:
        return tuple(tuple(days) for days in out)
    on, k = max(grazed)
    while True:
        on += timedelta(days=max(paddocks[k].days, 1))
        k = (k + 1) % len(paddocks)
        if on > until:
            return tuple(tuple(days) for days in out)
        out[k].append(on)
