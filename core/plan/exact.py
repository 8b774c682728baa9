"""The best plan there is of few patterns, by branch and bound."""

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from core.plan.patterns import Patterns
from core.plan.programme import programme
from core.plan.rows import Rows
from core.plan.search import Chosen

# With more the search does better in the same time.
MOST_PATTERNS = 3000


def exact_plan(
    patterns: Patterns, rows: Rows, cost: np.ndarray, nodes: int
) -> tuple[Chosen, float] | None:
    """The cheapest plan, and what none can be below; both in hundredths of money.

    Parameters
    ----------
    nodes : int
        Of the search tree, after which it gives up; a time would find another plan on another
        machine.

    Returns
    -------
    tuple of Chosen and float, or None
        None where no plan was found by then.
    """
    count, sources = cost.size, rows.peak_cost.size
    whole = programme(patterns, rows, cost, np.arange(count))
    found = milp(
        whole.cost,
        constraints=[
            LinearConstraint(whole.above, -np.inf, whole.room),
            LinearConstraint(whole.one, 1.0, 1.0),
        ],
        integrality=np.concatenate([np.ones(count), np.zeros(sources)]),
        bounds=Bounds(0.0, np.concatenate([np.ones(count), np.full(sources, np.inf)])),
        options={"node_limit": nodes, "mip_rel_gap": 0.0},
    )
    if found.x is None:
        return None
    pattern = np.array(
        [
            patterns.first[b] + int(np.argmax(found.x[patterns.of(b)]))
            for b in range(patterns.first.size - 1)
        ]
    )
    return Chosen(pattern, float(found.fun)), float(found.mip_dual_bound)
