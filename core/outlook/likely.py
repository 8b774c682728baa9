"""A figure with how far it may be off."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats


@dataclass(frozen=True)
class Likely:
    """A figure with its middle eight tenths."""

    low: float
    middle: float
    high: float


def likely_of(values: Floats, middle: float) -> Likely:
    """The middle eight tenths of values, which the expected one never lies outside of."""
    low, high = np.quantile(values, [0.1, 0.9])
    return Likely(float(min(low, middle)), middle, float(max(high, middle)))
