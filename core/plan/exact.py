"""The best plan there is of few patterns, by branch and bound."""

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import bmat, coo_matrix

from core.plan.columns import taken_by
from core.plan.patterns import Patterns
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
    slots = rows.capacity.shape[1]
    every = np.arange(count)
    block = np.repeat(np.arange(patterns.first.size - 1), np.diff(patterns.first))
    taken = taken_by(patterns, rows, every, block)
    room = np.concatenate(
        [(rows.capacity - rows.used).ravel(), rows.day_volume.ravel(), rows.total_volume]
    )
    peaks = np.flatnonzero(np.repeat(rows.peak_cost > 0, slots))
    highest = coo_matrix(
        (-np.ones(peaks.size), (np.arange(peaks.size), peaks // slots)), shape=(peaks.size, sources)
    )
    free = (rows.peak_so_far[:, None] - rows.used[:sources]).ravel()[peaks]
    above = bmat(
        [[taken, coo_matrix((taken.shape[0], sources))], [taken[peaks], highest]], format="csr"
    )
    one = coo_matrix((np.ones(count), (block, every)), shape=(block.max() + 1, count))
    one = bmat([[one, coo_matrix((one.shape[0], sources))]], format="csr")
    found = milp(
        np.concatenate([cost.astype(float), rows.peak_cost]),
        constraints=[
            LinearConstraint(above, -np.inf, np.concatenate([room, free]).astype(float)),
            LinearConstraint(one, 1.0, 1.0),
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
