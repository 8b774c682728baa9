"""The choice of patterns as a linear programme."""

from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy.sparse import bmat, coo_matrix, csr_matrix

from core.arrays import Floats
from core.plan.patterns import Patterns
from core.plan.rows import Rows
from core.plan.slots import SLOTS_PER_DAY


@dataclass(frozen=True)
class Programme:
    """Variables are a share of each column, and the peak of each source above that of the month.

    cost : array, shape (columns + sources,), in hundredths of money
    above, room : sparse (limits, columns + sources) and array (limits,), what may not be more:
        rows by slot, sources by day, sources in all, and flows less the peak in ``peaks``
    one : sparse, (blocks, columns + sources), whose rows add up to 1
    peaks : array of int, places of the flows among rows by slot whose peak costs money
    """

    cost: Floats
    above: csr_matrix
    room: Floats
    one: csr_matrix
    peaks: np.ndarray

    def most(self) -> Floats:
        """The most that any choice of a column for each block takes of each limit; those with room
        for it bind nobody. Array, shape (limits,)."""
        above, one = self.above.tocoo(), self.one.tocsc()
        own = above.col < one.indices.size
        out = np.zeros((self.room.size, one.shape[0]))
        np.maximum.at(out, (above.row[own], one.indices[above.col[own]]), above.data[own])
        return out.sum(axis=1)


def programme(patterns: Patterns, rows: Rows, cost: np.ndarray, columns: np.ndarray) -> Programme:
    """The programme of some patterns; array of int, shape (columns,)."""
    count, sources, slots = columns.size, rows.peak_cost.size, rows.capacity.shape[1]
    block = np.searchsorted(patterns.first, columns, "right") - 1
    taken = _taken(patterns, rows, columns, block)
    peaks = np.flatnonzero(np.repeat(rows.peak_cost > 0, slots))
    highest = coo_matrix(
        (-np.ones(peaks.size), (np.arange(peaks.size), peaks // slots)), shape=(peaks.size, sources)
    )
    above = bmat(
        [[taken, coo_matrix((taken.shape[0], sources))], [taken[peaks], highest]], format="csr"
    )
    room = [(rows.capacity - rows.used).ravel(), rows.day_volume.ravel(), rows.total_volume]
    free = (rows.peak_so_far[:, None] - rows.used[:sources]).ravel()[peaks]
    one = coo_matrix((np.ones(count), (block, np.arange(count))), shape=(block.max() + 1, count))
    return Programme(
        np.concatenate([cost[columns].astype(float), rows.peak_cost]),
        above,
        np.concatenate([*room, free]).astype(float),
        bmat([[one, coo_matrix((one.shape[0], sources))]], format="csr"),
        peaks,
    )


def _taken(patterns: Patterns, rows: Rows, columns: np.ndarray, block: np.ndarray) -> csr_matrix:
    """What patterns take of each row's slots, each source's days and each source in all."""
    count = _entries(patterns, rows, columns, block, *(np.empty(0, np.int64) for _ in range(3)))
    at, of, much = (np.empty(count, np.int64) for _ in range(3))
    _entries(patterns, rows, columns, block, at, of, much)
    height = rows.capacity.size + rows.day_volume.size + rows.total_volume.size
    return coo_matrix((much.astype(float), (at, of)), shape=(height, columns.size)).tocsr()


@njit(cache=True)
def _entries(patterns, rows, columns, block, at, of, much):  # type: ignore[no-untyped-def]  # pragma: no cover
    """Fill in limit, column and amount of each entry; how many there are. Arrays too short are left
    alone."""
    slots, days = rows.capacity.shape[1], rows.day_volume.shape[1]
    days_from = rows.capacity.size
    total_from = days_from + rows.day_volume.size
    n = 0
    for c in range(columns.size):
        p, b = columns[c], block[c]
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
                    if n < at.size:
                        at[n], of[n], much[n] = r * slots + t, c, rows.amount[b, j]
                    n += 1
            for t in range(first, end):
                if n + 1 < at.size:
                    at[n], of[n], much[n] = days_from + s * days + t // SLOTS_PER_DAY, c, volume
                    at[n + 1], of[n + 1], much[n + 1] = total_from + s, c, volume
                n += 2
    return n
