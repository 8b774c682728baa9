"""What patterns take of shared things, as columns of a linear programme."""

import numpy as np
from scipy.sparse import coo_matrix, csr_matrix

from core.plan.patterns import Patterns
from core.plan.rows import Rows
from core.plan.slots import SLOTS_PER_DAY


def taken_by(patterns: Patterns, rows: Rows, columns: np.ndarray, block: np.ndarray) -> csr_matrix:
    """What patterns take of each row's slots, each source's days and each source in all.

    Parameters
    ----------
    columns, block : arrays of int, shape (columns,), patterns and the blocks they are of

    Returns
    -------
    sparse matrix, shape (rows * slots + sources * days + sources, columns)
    """
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
