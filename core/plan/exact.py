"""The best plan there is of few patterns, by branch and bound."""

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_matrix, hstack, identity

from core.plan.patterns import Patterns
from core.plan.programme import Programme, programme
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
    constraints = [
        LinearConstraint(whole.above, -np.inf, whole.room),
        LinearConstraint(whole.one, 1.0, 1.0),
    ]
    runs = np.flatnonzero(rows.smallest > 0)
    switches = runs.size * rows.capacity.shape[1]
    if switches:
        constraints = [LinearConstraint(_widened(c.A, switches), c.lb, c.ub) for c in constraints]
        constraints += _smallest_flows(whole, rows, runs)
    found = milp(
        np.concatenate([whole.cost, np.zeros(switches)]),
        constraints=constraints,
        integrality=np.concatenate([np.ones(count), np.zeros(sources), np.ones(switches)]),
        bounds=Bounds(
            0.0, np.concatenate([np.ones(count), np.full(sources, np.inf), np.ones(switches)])
        ),
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


def _widened(limits: csr_matrix, by: int) -> csr_matrix:
    return hstack([limits, csr_matrix((limits.shape[0], by))], format="csr")


def _smallest_flows(whole: Programme, rows: Rows, runs: np.ndarray) -> list[LinearConstraint]:
    """A switch for each slot of the sources that have a smallest flow: off, nothing new runs; on,
    together with what stands no less than that does."""
    slots = rows.capacity.shape[1]
    at = (runs[:, None] * slots + np.arange(slots)).ravel()
    flow = whole.above[at]
    switch = identity(at.size, format="csr")
    room = (rows.capacity - rows.used).ravel()[at].astype(float)
    lacks = np.maximum(rows.smallest[runs][:, None] - rows.used[runs], 0).ravel().astype(float)
    return [
        LinearConstraint(hstack([flow, -switch.multiply(room[:, None])], format="csr"), -np.inf, 0),
        LinearConstraint(hstack([flow, -switch.multiply(lacks[:, None])], format="csr"), 0, np.inf),
    ]
