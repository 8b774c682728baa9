"""A square block of metres for the tests of siting."""

import numpy as np
from shapely.geometry import box

from core.siting.frame import Frame
from core.siting.raster import Raster

FRAME = Frame(10.0, 50.0)


def square(cells: int = 10, cell_m: float = 10.0) -> Raster:
    """So many cells a side, all inside, its upper left corner at zero."""
    return Raster(FRAME, 0.0, 0.0, cell_m, np.ones((cells, cells), bool))


def outline(cells: int = 10, cell_m: float = 10.0):
    """The outline of that square [m]."""
    side = cells * cell_m
    return box(0, -side, side, 0)


def lanes(count: int = 10, length: float = 100.0, width: float = 6.0, step: float = 2.0):
    """Passes up and down, north first: x and y of each point, and its pass."""
    along = np.arange(1.0, length, step)
    x = np.repeat(width / 2 + width * np.arange(count), len(along))
    y = np.concatenate([along if i % 2 == 0 else along[::-1] for i in range(count)])
    return x, y - length, np.repeat(np.arange(count), len(along))
