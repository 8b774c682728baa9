"""The best of several plans, source by source: what runs of one touches another's by little."""

from collections.abc import Sequence

import numpy as np

from core.plan.patterns import Patterns
from core.plan.rows import Rows
from core.plan.search import Chosen
from core.plan.smallest_flow import short_in_all
from core.plan.taking import Taken, peak_money, taken_by


def best_by_source(
    plans: Sequence[Chosen], patterns: Patterns, rows: Rows, cost: np.ndarray
) -> Chosen:
    """The cheapest plan, with those sources' blocks as in another where that is cheaper and what is
    shared between sources has room for it."""
    best = min(plans, key=lambda c: c.cost)
    better = True
    while better:
        better = False
        for source in range(rows.peak_cost.size):
            own = rows.source == source
            for other in plans:
                mixed = np.where(own, other.pattern, best.pattern)
                if (found := _cost(mixed, patterns, rows, cost)) < best.cost - 0.5:
                    best, better = Chosen(mixed, found), True
    return best


def _cost(pattern: np.ndarray, patterns: Patterns, rows: Rows, cost: np.ndarray) -> float:
    """Of a plan in hundredths of money; infinity where it can't be run."""
    taken = taken_by(pattern, patterns, rows)
    if not _fits(rows, taken) or short_in_all(rows, taken) > 0:
        return np.inf
    return float(cost[pattern].sum() + peak_money(rows, taken))


def _fits(rows: Rows, taken: Taken) -> bool:
    return bool(
        (taken.rows <= rows.capacity).all()
        and (taken.days <= rows.day_volume).all()
        and (taken.total <= rows.total_volume).all()
    )
