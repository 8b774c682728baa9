"""Prices of shared things, and what patterns cost with them."""

from typing import NamedTuple

import numpy as np
from numba import njit

from core.arrays import Floats
from core.plan.patterns import Patterns
from core.plan.rows import Rows
from core.plan.slots import SLOTS_PER_DAY


class Prices(NamedTuple):
    """What one unit of each shared thing is worth, in hundredths of money; none below zero.

    rows : array, shape (rows, slots)
    days : array, shape (sources, days), of volume
    total : array, shape (sources,), of volume
    peak : array, shape (sources, slots), of flow that makes the month's peak
    """

    rows: Floats
    days: Floats
    total: Floats
    peak: Floats

    @classmethod
    def nothing(cls, rows: Rows) -> "Prices":
        """Everything is to be had for nothing."""
        sources = rows.peak_cost.size
        return cls(
            np.zeros(rows.capacity.shape),
            np.zeros(rows.day_volume.shape),
            np.zeros(sources),
            np.zeros((sources, rows.capacity.shape[1])),
        )

    def allowed(self, rows: Rows) -> "Prices":
        """The nearest prices that tell a bound: none below zero, and those of a source's peak not
        above what the peak costs all together."""
        peak = np.maximum(self.peak, 0.0)
        total = peak.sum(axis=1)
        over = total > rows.peak_cost
        peak[over] *= (rows.peak_cost[over] / total[over])[:, None]
        return Prices(
            np.maximum(self.rows, 0.0),
            np.maximum(self.days, 0.0),
            np.maximum(self.total, 0.0),
            peak,
        )

    def between(self, other: "Prices", share: float) -> "Prices":
        """Prices some way from these to others [-]."""
        return Prices(*(a + share * (b - a) for a, b in zip(self, other, strict=True)))


def priced(patterns: Patterns, rows: Rows, cost: np.ndarray, prices: Prices) -> Floats:
    """Cost of each pattern with what it takes of shared things; array, shape (patterns,)."""
    out: Floats = _priced(patterns, rows, cost, prices)
    return out


def bound_at(patterns: Patterns, rows: Rows, costs: Floats, prices: Prices) -> float:
    """What no plan can be below, by prices of shared things (Lagrange's relaxation).

    Parameters
    ----------
    costs : array, shape (patterns,), of `priced` at these prices
    """
    least = np.minimum.reduceat(costs, patterns.first[:-1]).sum()
    room = (rows.capacity - rows.used).astype(float)
    given = (prices.rows * room).sum() + (prices.days * rows.day_volume).sum()
    given += (prices.total * rows.total_volume).sum()
    sources = rows.peak_cost.size
    free = rows.peak_so_far[:, None] - rows.used[:sources]
    given += (prices.peak * free).sum()
    return float(least - given)


@njit(cache=True)
def _priced(patterns, rows, cost, prices):  # type: ignore[no-untyped-def]  # pragma: no cover
    spans, most = rows.capacity.shape[1], rows.row.shape[1]
    out = cost.astype(np.float64)
    for b in range(patterns.first.size - 1):
        s = rows.source[b]
        # Sums up to each slot: of what is taken while a set runs, of water, and of rows that are
        # taken some slots before.
        running, water = np.zeros(spans + 1), np.zeros(spans + 1)
        begin, before = np.zeros(spans), np.zeros((most, spans + 1))
        for t in range(spans):
            each = prices.peak[s, t] * rows.amount[b, 0]
            for j in range(most):
                r = rows.row[b, j]
                if r < 0:
                    break
                money = prices.rows[r, t] * rows.amount[b, j]
                before[j, t + 1] = before[j, t] + money
                if rows.begins[b, j]:
                    begin[t] += money
                elif rows.lead[b, j] == 0:
                    each += money
            running[t + 1] = running[t] + each
            water[t + 1] = water[t] + prices.days[s, t // SLOTS_PER_DAY] + prices.total[s]
        for p in range(patterns.first[b], patterns.first[b + 1]):
            for k in range(patterns.sets[p]):
                t0 = patterns.start[p, k]
                t1 = t0 + patterns.slots[p, k]
                out[p] += running[t1] - running[t0] + begin[t0]
                out[p] += patterns.volume[p, k] * (water[t1] - water[t0])
                for j in range(most):
                    if rows.row[b, j] < 0:
                        break
                    if rows.lead[b, j] > 0:
                        out[p] += before[j, t1] - before[j, max(t0 - rows.lead[b, j], 0)]
    return out
