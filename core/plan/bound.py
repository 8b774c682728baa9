"""What no plan of these patterns can be below, by column generation."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import linprog

from core.arrays import Floats
from core.plan.patterns import Patterns
from core.plan.prices import Prices, bound_at, priced
from core.plan.programme import programme
from core.plan.rows import Rows

# New prices go so far from the best known ones to those of the last master: fewer jumps [-].
TOWARDS_NEW = 0.6
# Columns of each block that enter at a time, and when to stop: so little below the master [-].
ENTER, CLOSE = 3, 2e-4
# By then most bounds have stood still for long; the others are valid as they are.
ROUNDS = 60
# After so many, prices are as good to search by as the last ones.
EARLY = 11


@dataclass(frozen=True)
class Bound:
    """What no plan of these patterns costs less than, in hundredths of money, and the prices of
    shared things that prove it."""

    cost: float
    prices: Prices


def bound_of(
    patterns: Patterns,
    rows: Rows,
    cost: np.ndarray,
    known: np.ndarray,
    rounds: int = ROUNDS,
    early: Callable[[Prices], object] = lambda _: None,
) -> Bound:
    """The bound; any number of rounds leaves a valid one.

    Parameters
    ----------
    known : array of int, shape (blocks,), a plan that can be had
    early : is told prices to search by as soon as there are, once
    """
    blocks = patterns.first.size - 1
    columns = list(dict.fromkeys([*patterns.first[:-1].tolist(), *known.tolist()]))
    prices = Prices.nothing(rows)
    costs = priced(patterns, rows, cost, prices)
    best = Bound(bound_at(patterns, rows, costs, prices), prices)
    entered = set(columns)
    _enter(patterns, costs, np.full(blocks, np.inf), columns, entered)
    said = False
    for done in range(rounds):
        if done == EARLY:
            early(best.prices)
            said = True
        there, value, convexity = _best_mix(patterns, rows, cost, columns)
        tried = best.prices.between(there, TOWARDS_NEW).allowed(rows)
        new = False
        for prices in (tried, there.allowed(rows)):
            costs = priced(patterns, rows, cost, prices)
            bound = bound_at(patterns, rows, costs, prices)
            if bound > best.cost:
                best = Bound(bound, prices)
            if _enter(patterns, costs, convexity, columns, entered):
                new = True
                break
        if not new or value - best.cost <= CLOSE * max(abs(value), 1.0):
            break
    if not said:
        early(best.prices)
    return best


def _enter(
    patterns: Patterns, costs: Floats, above: Floats, columns: list[int], entered: set[int]
) -> bool:
    """Take in the cheapest patterns of each block; whether there was a new one."""
    new = False
    for b in range(patterns.first.size - 1):
        own = patterns.of(b)
        part = costs[own]
        cheapest = np.argpartition(part, min(ENTER, part.size - 1))[:ENTER]
        for p in (own.start + cheapest[np.argsort(part[cheapest], kind="stable")]).tolist():
            if p not in entered and costs[p] < above[b] - 1e-6:
                entered.add(p)
                columns.append(p)
                new = True
    return new


def _best_mix(
    patterns: Patterns, rows: Rows, cost: np.ndarray, columns: list[int]
) -> tuple[Prices, float, Floats]:
    """Prices of shared things at the best mix of some patterns, its cost, and what each block costs
    in it."""
    whole = programme(patterns, rows, cost, np.array(columns))
    # Only rows that anything takes of.
    busy = np.flatnonzero(np.diff(whole.above.indptr) > 0)
    found = linprog(
        whole.cost,
        A_ub=whole.above[busy],
        b_ub=whole.room[busy],
        A_eq=whole.one,
        b_eq=np.ones(whole.one.shape[0]),
        method="highs",
        # These programmes have little that could be left out: to look for it takes half the time.
        options={"presolve": False},
    )
    dual = np.zeros(whole.room.size)
    dual[busy] = -found.ineqlin.marginals
    of_rows, of_days, of_total, of_peaks = np.split(
        dual, np.cumsum([rows.capacity.size, rows.day_volume.size, rows.total_volume.size])
    )
    peak = np.zeros(rows.peak_cost.size * rows.capacity.shape[1])
    peak[whole.peaks] = of_peaks
    prices = Prices(
        of_rows.reshape(rows.capacity.shape),
        of_days.reshape(rows.day_volume.shape),
        of_total,
        peak.reshape(rows.peak_cost.size, -1),
    )
    return prices, float(found.fun), found.eqlin.marginals
