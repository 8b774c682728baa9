"""A layer as few bytes, for a screen: 101 levels, each cell told by the one before it."""

import zlib
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.siting.raster import Raster

# Level 0 is a cell without a value. A score from 0 to 100 is right to the point that a table shows,
# and the eye tells fewer shades than these.
LEVELS = 101


@dataclass(frozen=True)
class CompactLayer:
    """What a screen draws.

    Parameters
    ----------
    data : bytes
        Zlib of one byte a cell of (rows, cols) from the north, each less the one before it, modulo
        102; the first of all less 0.
    low, high : float
        What the levels 1 and `LEVELS` stand for.
    """

    data: bytes
    low: float
    high: float


def compact(values: Floats, raster: Raster, low: float, high: float) -> CompactLayer:
    """Values between two bounds as levels; those beyond are drawn as the bound.

    Parameters
    ----------
    values : array, shape (cells,)
        NaN where unknown.
    """
    picture = raster.spread_out(values)
    width = high - low if high > low else 1.0
    with np.errstate(invalid="ignore"):
        level = np.clip(np.round((picture - low) / width * (LEVELS - 1)), 0, LEVELS - 1) + 1
    level = np.where(np.isfinite(picture), level, 0).astype(np.int16).ravel()
    steps = np.diff(level, prepend=0) % (LEVELS + 1)
    return CompactLayer(zlib.compress(steps.astype(np.uint8).tobytes(), 9), low, high)
