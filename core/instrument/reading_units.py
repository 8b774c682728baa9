"""Units in which readings are written down, and their value in the core's units."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike, Floats
from core.instrument.kinds import Quantity
from core.units import MM_PER_INCH


class ReadingUnit(StrEnum):
    FRACTION = "m3/m3"
    PERCENT = "%"
    MM_PER_100MM = "mm/100mm"
    KPA = "kPa"
    CENTIBAR = "cbar"
    COUNTS = "counts"
    PERMITTIVITY = "permittivity"
    KILO_OHM = "kOhm"
    CELSIUS = "degC"
    FAHRENHEIT = "degF"
    MILLIMETRE = "mm"
    CENTIMETRE = "cm"
    INCH = "in"
    CUBIC_METRE = "m3"
    US_GALLON = "gal"
    MEGAPASCAL = "MPa"
    BAR = "bar"
    PERCENT_AVAILABLE = "% available"


@dataclass(frozen=True)
class _Scale:
    """core = factor * (raw - zero); ``code`` is what the readings' table holds, never reused."""

    quantity: Quantity
    code: int
    factor: float = 1.0
    zero: float = 0.0


# All exact by definition.
_SCALES: dict[ReadingUnit, _Scale] = {
    ReadingUnit.FRACTION: _Scale(Quantity.THETA, 1),
    ReadingUnit.PERCENT: _Scale(Quantity.THETA, 2, 0.01),
    ReadingUnit.MM_PER_100MM: _Scale(Quantity.THETA, 3, 0.01),
    ReadingUnit.KPA: _Scale(Quantity.TENSION, 4),
    ReadingUnit.CENTIBAR: _Scale(Quantity.TENSION, 5),
    ReadingUnit.COUNTS: _Scale(Quantity.COUNTS, 6),
    ReadingUnit.PERMITTIVITY: _Scale(Quantity.PERMITTIVITY, 7),
    ReadingUnit.KILO_OHM: _Scale(Quantity.RESISTANCE, 8),
    ReadingUnit.CELSIUS: _Scale(Quantity.TEMPERATURE, 9),
    ReadingUnit.FAHRENHEIT: _Scale(Quantity.TEMPERATURE, 10, 5 / 9, 32.0),
    ReadingUnit.MILLIMETRE: _Scale(Quantity.WATER_DEPTH, 11),
    ReadingUnit.CENTIMETRE: _Scale(Quantity.WATER_DEPTH, 12, 10.0),
    ReadingUnit.INCH: _Scale(Quantity.WATER_DEPTH, 13, MM_PER_INCH),
    ReadingUnit.CUBIC_METRE: _Scale(Quantity.VOLUME, 14),
    ReadingUnit.US_GALLON: _Scale(Quantity.VOLUME, 15, 0.003785411784),
    ReadingUnit.MEGAPASCAL: _Scale(Quantity.LEAF_POTENTIAL, 16),
    ReadingUnit.BAR: _Scale(Quantity.LEAF_POTENTIAL, 17, 0.1),
    ReadingUnit.PERCENT_AVAILABLE: _Scale(Quantity.AVAILABLE, 18, 0.01),
}
UNIT_OF_CODE: dict[int, ReadingUnit] = {s.code: u for u, s in _SCALES.items()}
_SIZE = max(UNIT_OF_CODE) + 1
_FACTOR, _ZERO = np.ones(_SIZE), np.zeros(_SIZE)
for _scale in _SCALES.values():
    _FACTOR[_scale.code], _ZERO[_scale.code] = _scale.factor, _scale.zero


def code_of(unit: ReadingUnit) -> int:
    """The number by which the readings' table knows a unit."""
    return _SCALES[unit].code


def quantity_of(unit: ReadingUnit) -> Quantity:
    """The quantity a unit measures."""
    return _SCALES[unit].quantity


def units_of(quantity: Quantity) -> list[ReadingUnit]:
    """Units in which a quantity may be read."""
    return [unit for unit, s in _SCALES.items() if s.quantity is quantity]


def to_core(value: ArrayLike, unit: ReadingUnit) -> Floats:
    """A reading in the core's unit of its quantity; shape of ``value``."""
    scale = _SCALES[unit]
    return (np.asarray(value, float) - scale.zero) * scale.factor


def from_core(value: ArrayLike, unit: ReadingUnit) -> Floats:
    """Inverse of `to_core`."""
    scale = _SCALES[unit]
    return np.asarray(value, float) / scale.factor + scale.zero


def coded_to_core(value: Floats, code: np.ndarray) -> Floats:
    """Readings in mixed units, each with its code, in core units; same shape."""
    out: Floats = (value - _ZERO[code]) * _FACTOR[code]
    return out
