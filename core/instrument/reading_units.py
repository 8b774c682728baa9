"""Units in which readings are written down, and their value in the core's units."""

from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.kinds import Quantity


class ReadingUnit(StrEnum):
    FRACTION = "m3/m3"
    PERCENT = "%"
    MM_PER_100MM = "mm/100mm"
    KPA = "kPa"
    CENTIBAR = "cbar"


# unit -> (quantity, factor to m3/m3 or kPa); all exact.
_FACTORS: dict[ReadingUnit, tuple[Quantity, float]] = {
    ReadingUnit.FRACTION: (Quantity.THETA, 1.0),
    ReadingUnit.PERCENT: (Quantity.THETA, 0.01),
    ReadingUnit.MM_PER_100MM: (Quantity.THETA, 0.01),
    ReadingUnit.KPA: (Quantity.TENSION, 1.0),
    ReadingUnit.CENTIBAR: (Quantity.TENSION, 1.0),
}


def quantity_of(unit: ReadingUnit) -> Quantity:
    """The quantity a unit measures."""
    return _FACTORS[unit][0]


def units_of(quantity: Quantity) -> list[ReadingUnit]:
    """Units in which a quantity may be read."""
    return [unit for unit, (q, _) in _FACTORS.items() if q is quantity]


def to_core(value: ArrayLike, unit: ReadingUnit) -> Floats:
    """A reading in m3/m3 or kPa; shape of ``value``."""
    return np.asarray(value, float) * _FACTORS[unit][1]


def from_core(value: ArrayLike, unit: ReadingUnit) -> Floats:
    """Inverse of `to_core`."""
    return np.asarray(value, float) / _FACTORS[unit][1]
