"""The choice of patterns as a linear programme."""

from dataclasses import dataclass

import numpy as np
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
    at, of, much = [], [], []
    slots = rows.capacity.shape[1]
    days_from, total_from = rows.capacity.size, rows.capacity.size + rows.day_volume.size
    days = rows.day_volume.shape[1]
    for c, (p, b) in enumerate(zip(columns.tolist(), block.tolist(), strict=True)):
        s = int(rows.source[b])
        for k in range(int(patterns.sets[p])):
            first = int(patterns.start[p, k])
            end = first + int(patterns.slots[p, k])
            volume = int(patterns.volume[p, k])
            for j, r in enumerate(rows.row[b].tolist()):
                if r < 0:
                    break
                stop = first + 1 if rows.begins[b, j] else end
                for t in range(max(first - int(rows.lead[b, j]), 0), stop):
                    at.append(r * slots + t)
                    of.append(c)
                    much.append(int(rows.amount[b, j]))
            for t in range(first, end):
                at += [days_from + s * days + t // SLOTS_PER_DAY, total_from + s]
                of += [c, c]
                much += [volume, volume]
    shape = (total_from + rows.total_volume.size, columns.size)
    return coo_matrix((np.array(much, float), (at, of)), shape=shape).tocsr()
