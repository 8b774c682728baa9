"""Unknown figures on the wire: NaN inside, null outside."""

import math

import numpy as np

from core.arrays import Floats


def known(value: float | np.floating) -> float | None:
    """A finite number, or None."""
    number = float(value)
    return number if math.isfinite(number) else None


def known_rows(values: Floats, digits: int = 4) -> list[list[float | None]]:
    """A table with its gaps as None, rounded for the wire."""
    return [[None if math.isnan(v) else round(v, digits) for v in row] for row in values.tolist()]
