"""The best of several plans, source by source: what runs of one touches another's by little."""

from collections.abc import Sequence

import numpy as np

from core.plan.cost_of_plan import cost_of_plan
from core.plan.patterns import Patterns
from core.plan.rows import Rows
from core.plan.search import Chosen


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
                if (found := cost_of_plan(mixed, patterns, rows, cost)) < best.cost - 0.5:
                    best, better = Chosen(mixed, found), True
    return best
