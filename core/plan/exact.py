"""The best plan there is of few patterns, by constraint programming."""

import numpy as np
from ortools.sat.python.cp_model import (
    FEASIBLE,
    OPTIMAL,
    CpModel,
    CpSolver,
    IntVar,
    LinearExpr,
)
from scipy.sparse import csr_matrix

from core.arrays import Floats
from core.plan.cost_of_plan import cost_of_plan
from core.plan.patterns import Patterns
from core.plan.programme import Programme, programme
from core.plan.rows import Rows
from core.plan.search import Chosen

# With more the search does better in the same time.
MOST_PATTERNS = 3000
# The solver counts in whole numbers: parts of a hundredth of money.
PARTS = 1_000_000


def exact_plan(
    patterns: Patterns, rows: Rows, cost: np.ndarray, known: Chosen, work: float
) -> tuple[Chosen, float] | None:
    """The cheapest plan, and what none can be below; both in hundredths of money.

    Parameters
    ----------
    known : a plan that can be had, to begin with
    work : float
        After which it gives up, in the solver's own units of two to three seconds; a time would
        find another plan on another machine.

    Returns
    -------
    tuple of Chosen and float, or None
        None where no plan was found by then.
    """
    whole = programme(patterns, rows, cost, np.arange(cost.size))
    model = CpModel()
    runs = [model.new_bool_var("") for _ in range(cost.size)]
    most = whole.most()
    peaks = _peaks(model, rows, most)
    variables = [*runs, *peaks]
    for b in range(patterns.first.size - 1):
        model.add_exactly_one(runs[p] for p in range(patterns.of(b).start, patterns.of(b).stop))
    for limit in np.flatnonzero(most > whole.room).tolist():
        model.add(_sum(whole.above, limit, variables) <= int(whole.room[limit]))
    _smallest_flows(model, whole, rows, variables)
    model.minimize(LinearExpr.weighted_sum(variables, np.rint(whole.cost * PARTS).astype(int)))
    at = np.zeros(cost.size, bool)
    at[known.pattern] = True
    for variable, value in zip(runs, at.tolist(), strict=True):
        model.add_hint(variable, value)
    solver = CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = work
    if solver.solve(model) not in (OPTIMAL, FEASIBLE):
        return None
    chosen = np.flatnonzero([solver.boolean_value(v) for v in runs])
    found = cost_of_plan(chosen, patterns, rows, cost)
    return Chosen(chosen, found), min(solver.best_objective_bound / PARTS, found)


def _peaks(model: CpModel, rows: Rows, most: Floats) -> list[IntVar]:
    """How far each source's highest flow is above that of the month."""
    sources, slots = rows.peak_cost.size, rows.capacity.shape[1]
    flow = most[: sources * slots].reshape(sources, slots) + rows.used[:sources]
    return [model.new_int_var(0, int(flow[s].max()), "") for s in range(sources)]


def _sum(matrix: csr_matrix, row: int, variables: list[IntVar]) -> LinearExpr:
    own = slice(matrix.indptr[row], matrix.indptr[row + 1])
    return LinearExpr.weighted_sum(
        [variables[v] for v in matrix.indices[own]], matrix.data[own].astype(int)
    )


def _smallest_flows(model: CpModel, whole: Programme, rows: Rows, variables: list[IntVar]) -> None:
    """Off, nothing new runs of a source with a smallest flow; on, together with what stands no
    less than that does."""
    slots = rows.capacity.shape[1]
    for s in np.flatnonzero(rows.smallest > 0).tolist():
        for t in range(slots):
            flow = _sum(whole.above, s * slots + t, variables)
            on = model.new_bool_var("")
            model.add(flow <= int(rows.capacity[s, t] - rows.used[s, t]) * on)
            model.add(flow >= max(int(rows.smallest[s] - rows.used[s, t]), 0) * on)
