"""What a whole plan costs, and whether it can be run."""

import numpy as np

from core.plan.patterns import Patterns
from core.plan.rows import Rows
from core.plan.smallest_flow import short_in_all
from core.plan.taking import Taken, peak_money, taken_by


def cost_of_plan(chosen: np.ndarray, patterns: Patterns, rows: Rows, cost: np.ndarray) -> float:
    """With its peak, in hundredths of money; infinity where it can't be run.

    Parameters
    ----------
    chosen : array of int, shape (blocks,), a pattern of each
    """
    taken = taken_by(chosen, patterns, rows)
    if not _fits(rows, taken) or short_in_all(rows, taken) > 0:
        return np.inf
    return float(cost[chosen].sum() + peak_money(rows, taken))


def _fits(rows: Rows, taken: Taken) -> bool:
    return bool(
        (taken.rows <= rows.capacity).all()
        and (taken.days <= rows.day_volume).all()
        and (taken.total <= rows.total_volume).all()
    )
