"""What runs while a source brings less than it may: it runs at its smallest flow or not at all."""

import numpy as np
from numba import njit

from core.plan.rows import Rows
from core.plan.taking import Taken


def slots_below(source: int, rows: Rows, taken: Taken) -> np.ndarray:
    """Slots in which something new runs and too little does; array of int.

    What stands already is not judged by itself: it can't be moved.
    """
    flow = taken.rows[source]
    short = (flow > rows.used[source]) & (flow < rows.smallest[source])
    return np.flatnonzero(short)


@njit(cache=True)
def short_of(flow, stands, smallest):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Share of the smallest flow that lacks while something new runs [-]."""
    if flow > stands and flow < smallest:
        return (smallest - flow) / smallest
    return 0.0


@njit(cache=True)
def short_in_all(rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Slots below the smallest flow, each by the share that lacks."""
    out = 0.0
    for s in range(rows.smallest.size):
        if rows.smallest[s] > 0:
            for t in range(taken.rows.shape[1]):
                out += short_of(taken.rows[s, t], rows.used[s, t], rows.smallest[s])
    return out


@njit(cache=True)
def more_short(b, p, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """What a block's pattern adds to `short_in_all`; below zero where it helps others."""
    s = rows.source[b]
    smallest, flow = rows.smallest[s], rows.amount[b, 0]
    out = 0.0
    for k in range(patterns.sets[p]):
        for t in range(patterns.start[p, k], patterns.start[p, k] + patterns.slots[p, k]):
            now, stands = taken.rows[s, t], rows.used[s, t]
            out += short_of(now + flow, stands, smallest) - short_of(now, stands, smallest)
    return out


@njit(cache=True)
def runs_short(b, p, patterns, rows, taken):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Whether a block's pattern runs in a slot below the smallest flow."""
    s = rows.source[b]
    for k in range(patterns.sets[p]):
        for t in range(patterns.start[p, k], patterns.start[p, k] + patterns.slots[p, k]):
            if short_of(taken.rows[s, t], rows.used[s, t], rows.smallest[s]) > 0:
                return True
    return False
