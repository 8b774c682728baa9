"""What no plan of these patterns can be below, by column generation."""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import linprog
from scipy.sparse import bmat, coo_matrix

from core.arrays import Floats
from core.plan.columns import taken_by
from core.plan.patterns import Patterns
from core.plan.prices import Prices, bound_at, priced
from core.plan.rows import Rows

# New prices go so far from the best known ones to those of the last master: fewer jumps [-].
TOWARDS_NEW = 0.6
# Columns of each block that enter at a time, and when to stop: so little below the master [-].
ENTER, CLOSE = 3, 2e-4
# By then most bounds have stood still for long; the others are valid as they are.
ROUNDS = 60


@dataclass(frozen=True)
class Bound:
    """What no plan of these patterns costs less than, in hundredths of money, and the prices of
    shared things that prove it."""

    cost: float
    prices: Prices


def bound_of(
    patterns: Patterns, rows: Rows, cost: np.ndarray, known: np.ndarray, rounds: int = ROUNDS
) -> Bound:
    """The bound; any number of rounds leaves a valid one.

    Parameters
    ----------
    known : array of int, shape (blocks,), a plan that can be had
    """
    blocks = patterns.first.size - 1
    columns = list(dict.fromkeys([*patterns.first[:-1].tolist(), *known.tolist()]))
    prices = Prices.nothing(rows)
    costs = priced(patterns, rows, cost, prices)
    best = Bound(bound_at(patterns, rows, costs, prices), prices)
    entered = set(columns)
    _enter(patterns, costs, np.full(blocks, np.inf), columns, entered)
    for _ in range(rounds):
        master = _Master(patterns, rows, cost, columns)
        there, value, convexity = master.prices()
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


class _Master:
    """The best mix of the columns that have entered; rows of capacity that it breaks are added."""

    def __init__(
        self, patterns: Patterns, rows: Rows, cost: np.ndarray, columns: list[int]
    ) -> None:
        self.rows, self.columns = rows, np.array(columns)
        self.block = np.searchsorted(patterns.first, self.columns, "right") - 1
        self.cost = cost[self.columns].astype(float)
        self.taken = taken_by(patterns, rows, self.columns, self.block)

    def prices(self) -> tuple[Prices, float, Floats]:
        """Prices of shared things at the best mix, its cost, and what each block costs in it."""
        r = self.rows
        n, sources = self.columns.size, r.peak_cost.size
        slots = r.capacity.shape[1]
        flow_rows = self.taken.shape[0]
        # Peaks: flow of a slot less the variable peak is at most what the month has had.
        peaks = np.flatnonzero(np.repeat(r.peak_cost > 0, slots))
        peak_flow = self.taken[: sources * slots][peaks]
        variable = coo_matrix(
            (-np.ones(peaks.size), (np.arange(peaks.size), peaks // slots)),
            shape=(peaks.size, sources),
        )
        above = bmat(
            [
                [self.taken, coo_matrix((flow_rows, sources))],
                [peak_flow, variable],
            ],
            format="csr",
        )
        room = np.concatenate(
            [
                (r.capacity - r.used).ravel(),
                r.day_volume.ravel(),
                r.total_volume,
            ]
        ).astype(float)
        free = (r.peak_so_far[:, None] - r.used[:sources]).ravel()[peaks].astype(float)
        # Only rows that anything takes of.
        busy = np.flatnonzero(np.diff(above.indptr) > 0)
        one = coo_matrix((np.ones(n), (self.block, np.arange(n))), shape=(self.block.max() + 1, n))
        one = bmat([[one, coo_matrix((one.shape[0], sources))]], format="csr")
        found = linprog(
            np.concatenate([self.cost, r.peak_cost]),
            A_ub=above[busy],
            b_ub=np.concatenate([room, free])[busy],
            A_eq=one,
            b_eq=np.ones(one.shape[0]),
            method="highs",
        )
        dual = np.zeros(above.shape[0])
        dual[busy] = -found.ineqlin.marginals
        days = r.day_volume.size
        of_rows = dual[: r.capacity.size].reshape(r.capacity.shape)
        of_days = dual[r.capacity.size :][:days].reshape(r.day_volume.shape)
        of_total = dual[r.capacity.size + days :][:sources]
        of_peak = np.zeros(sources * slots)
        of_peak[peaks] = dual[flow_rows:]
        prices = Prices(of_rows, of_days, of_total, of_peak.reshape(sources, slots))
        return prices, float(found.fun), found.eqlin.marginals
