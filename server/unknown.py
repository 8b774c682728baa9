"""Unknown figures on the wire: NaN inside, null outside."""

import math

import numpy as np

from core.arrays import Floats


def known(value: float | np.floating, digits: int | None = None) -> float | None:
    """A finite number, rounded for the wire where digits are given, or None."""
    number = float(value)
    if not math.isfinite(number):
        return None
    return number if digits is None else round(number, digits)


def known_rows(values: Floats, digits: int = 4) -> list[list[float | None]]:
    """A table with its gaps as None, rounded for the wire."""
    return [[None if math.isnan(v) else round(v, digits) for v in row] for row in values.tolist()]
