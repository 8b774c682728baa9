"""Compiled loops over what patterns take of shared things: adding, removing, fitting."""

from typing import NamedTuple

import numpy as np
from numba import njit

from core.plan.slots import SLOTS_PER_DAY


class Taken(NamedTuple):
    """What is taken of each row's slots, each source's days, and each source in all; arrays of
    int64, shapes (rows, slots), (sources, days), (sources,)."""

    rows: np.ndarray
    days: np.ndarray
    total: np.ndarray


@njit(cache=True)
def nothing_taken(rows):  # type: ignore[no-untyped-def]  # pragma: no cover
    """What is taken before any pattern is: by what stands."""
    return Taken(rows.used.copy(), np.zeros_like(rows.day_volume), np.zeros_like(rows.total_volume))


@njit(cache=True)
def take(sign, b, p, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Add (1) or remove (-1) what a block's pattern takes."""
    s = rows.source[b]
    for k in range(patterns.sets[p]):
        first = patterns.start[p, k]
        end = first + patterns.slots[p, k]
        volume = patterns.volume[p, k]
        for j in range(rows.row.shape[1]):
            r = rows.row[b, j]
            if r < 0:
                break
            stop = first + 1 if rows.begins[b, j] else end
            for t in range(max(first - rows.lead[b, j], 0), stop):
                taken.rows[r, t] += sign * rows.amount[b, j]
        t = first
        while t < end:
            day = t // SLOTS_PER_DAY
            until = min((day + 1) * SLOTS_PER_DAY, end)
            taken.days[s, day] += sign * volume * (until - t)
            t = until
        taken.total[s] += sign * volume * (end - first)


@njit(cache=True)
def taken_by(chosen, patterns, rows):  # type: ignore[no-untyped-def]  # pragma: no cover
    """What a pattern of each block takes beside what stands; none where it is below zero."""
    taken = nothing_taken(rows)
    for b in range(chosen.size):
        if chosen[b] >= 0:
            take(1, b, chosen[b], patterns, rows, taken)
    return taken


@njit(cache=True)
def peak_money(rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """What the highest draw of each source costs above that of the month so far."""
    out = 0.0
    for s in range(rows.peak_cost.size):
        if rows.peak_cost[s] > 0:
            out += rows.peak_cost[s] * max(taken.rows[s].max() - rows.peak_so_far[s], 0)
    return out
