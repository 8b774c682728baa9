"""Classes of cells smoothed in space: a cell goes with its neighbours where it hardly differs.

References
----------
.. [1] Besag, J. (1986), On the statistical analysis of dirty pictures, J. R. Stat. Soc. B
   48:259-302, doi:10.1111/j.2517-6161.1986.tb01412.x.
"""

import numpy as np
from scipy import ndimage

from core.arrays import Bools, Floats, Ints

# The eight cells around, each as much as another.
AROUND = np.array([[1, 1, 1], [1, 0, 1], [1, 1, 1]])
ROUNDS = 12


def smoothed(cost: Floats, inside: Bools, weight: float) -> Ints:
    """The class of each cell by what it costs there and what its neighbours are.

    Iterated conditional modes [1]_: a class costs itself and `weight` for each neighbour of
    another class.

    Parameters
    ----------
    cost : array, shape (classes, cells)
        What a class costs at a cell, such as half its squared distance; NaN where unknown.
    inside : array of bool, shape (rows, cols)
    weight : float

    Returns
    -------
    array of int, shape (cells,)
    """
    own = np.where(np.isnan(cost), 0.0, cost)
    label = own.argmin(axis=0)
    picture = np.full(inside.shape, -1)
    for _ in range(ROUNDS):
        picture[inside] = label
        alike = np.stack(
            [
                ndimage.convolve((picture == k).astype(float), AROUND, mode="constant")[inside]
                for k in range(len(cost))
            ]
        )
        after = (own - weight * alike).argmin(axis=0)
        if np.array_equal(after, label):
            break
        label = after
    return label


def without_slivers(label: Ints, inside: Bools, fewest: int) -> Ints:
    """Patches of fewer cells than a person would treat apart, given to the class around them.

    Parameters
    ----------
    label : array of int, shape (cells,)
    fewest : int
        Cells of the smallest patch that stays.
    """
    picture = np.full(inside.shape, -1)
    picture[inside] = label
    for _ in range(ROUNDS):
        small = np.zeros(inside.shape, bool)
        for k in range(int(label.max()) + 1):
            patch, count = ndimage.label(picture == k)
            size = np.bincount(patch.ravel(), minlength=count + 1)
            size[0] = fewest
            small |= size[patch] < fewest
        if not small.any() or (small == inside).all():
            break
        near = ndimage.distance_transform_edt(
            small | ~inside, return_distances=False, return_indices=True
        )
        picture[small] = picture[tuple(near)][small]
    return picture[inside]
