"""Ordinary kriging from the nearest points, in tiles, by PyKrige.

References
----------
.. [1] Webster, R., Oliver, M. A. (2007), Geostatistics for Environmental Scientists, 2nd ed.,
   Wiley, doi:10.1002/9780470517277 (chapter 8).
"""

import warnings
from collections.abc import Iterator

import numpy as np
from scipy.spatial import cKDTree

from core.arrays import Floats, Ints
from core.siting.variogram import Variogram

# Points that an estimate is made of: those farther are screened by them [1]_ (section 8.4).
NEAREST = 16
# Estimates of one tile: its points' distances to each other are all worked out.
TILE = 600


def kriged(
    x: Floats, y: Floats, value: Floats, variogram: Variogram, at_x: Floats, at_y: Floats
) -> tuple[Floats, Floats]:
    """Estimates at places and their standard errors.

    The nugget counts as what points differ by at one place, so that the map passes between them.

    Parameters
    ----------
    x, y, value : array, shape (n,) [m], [m], [unit]
        No two at one place.
    at_x, at_y : array, shape (m,) [m]

    Returns
    -------
    value, error : array, shape (m,)
        The error is that of the place's own value, without the nugget.
    """
    # Costs every process that imports it most of a second, and few grid points.
    from pykrige.ok import OrdinaryKriging  # noqa: PLC0415

    tree = cKDTree(np.column_stack([x, y]))
    count = min(NEAREST, len(x))
    found, error = np.empty(len(at_x)), np.empty(len(at_x))
    for tile in _tiles(at_x, at_y):
        places = np.column_stack([at_x[tile], at_y[tile]])
        near = np.unique(tree.query(places, k=count)[1])
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            made = OrdinaryKriging(
                x[near],
                y[near],
                value[near],
                variogram_model=str(variogram.model),
                variogram_parameters={
                    "psill": variogram.partial_sill,
                    "range": variogram.range_m,
                    "nugget": variogram.nugget,
                },
                exact_values=False,
            )
        mean, variance = made.execute(
            "points", *places.T, backend="C", n_closest_points=min(count, len(near))
        )
        found[tile] = mean
        error[tile] = np.sqrt(np.maximum(np.asarray(variance) - variogram.nugget, 0))
    return found, error


def _tiles(x: Floats, y: Floats) -> Iterator[Ints]:
    """Places near each other, a few hundred at a time: halved across the longer way."""
    waiting = [np.arange(len(x))]
    while waiting:
        part = waiting.pop()
        if len(part) <= TILE:
            if len(part):
                yield part
            continue
        along = x if np.ptp(x[part]) >= np.ptp(y[part]) else y
        order = part[np.argsort(along[part], kind="stable")]
        waiting += [order[: len(order) // 2], order[len(order) // 2 :]]
