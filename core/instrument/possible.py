"""Values that no instrument can write down: refused on arrival, with the reason.

Doubtful values are let in and flagged; these here are wrong units, wrong columns or codes for
"no reading". The bounds are wide on purpose (common practice, no source).
"""

import numpy as np

from core.arrays import Bools, Floats
from core.instrument.kinds import Quantity
from core.instrument.reading_units import ReadingUnit, quantity_of, to_core
from core.sentence import Sentence, sentence

# Codes that loggers write where there is no reading.
SENTINELS = np.array([-9999.0, -9999.9, -7999.0, -6999.0, -999.0, -999.9, -99999.0])

POSSIBLE: dict[Quantity, tuple[float, float]] = {
    Quantity.THETA: (-0.2, 1.0),
    Quantity.TENSION: (-20.0, 5000.0),
    Quantity.COUNTS: (-1e7, 1e7),
    Quantity.PERMITTIVITY: (0.0, 120.0),
    Quantity.RESISTANCE: (0.0, 1e5),
    Quantity.TEMPERATURE: (-60.0, 90.0),
    Quantity.WATER_DEPTH: (-2000.0, 2000.0),
    Quantity.VOLUME: (0.0, 1e10),
    Quantity.LEAF_POTENTIAL: (-15.0, 0.1),
    Quantity.AVAILABLE: (-0.5, 2.0),
}
_NAMES: dict[Quantity, Sentence] = {
    Quantity.THETA: sentence("a water content"),
    Quantity.TENSION: sentence("a soil-water tension"),
    Quantity.COUNTS: sentence("a probe's count"),
    Quantity.PERMITTIVITY: sentence("a permittivity"),
    Quantity.RESISTANCE: sentence("a sensor's resistance"),
    Quantity.TEMPERATURE: sentence("a soil temperature"),
    Quantity.WATER_DEPTH: sentence("a depth of water"),
    Quantity.VOLUME: sentence("a meter's volume"),
    Quantity.LEAF_POTENTIAL: sentence("a leaf's water potential, which is negative"),
    Quantity.AVAILABLE: sentence("a share of the available water"),
}


def is_sentinel(value: Floats) -> Bools:
    """Values that stand for no reading; same shape."""
    return np.isin(value, SENTINELS)


def impossible(core_value: Floats, quantity: Quantity) -> Bools:
    """Values outside what can be written down, in core units; NaN counts as impossible."""
    low, high = POSSIBLE[quantity]
    out: Bools = ~((core_value >= low) & (core_value <= high))
    return out


def why_impossible(value: float, unit: ReadingUnit) -> Sentence | None:
    """Why a value can't be what its unit says, with the cure; None when it can."""
    quantity = quantity_of(unit)
    if not impossible(np.asarray(to_core(value, unit)), quantity):
        return None
    if unit is ReadingUnit.FRACTION and 1 < value <= 100:
        return sentence(
            "{value:g} is not a fraction of volume. If the logger writes percent, choose percent "
            "as the unit.",
            value=value,
        )
    return sentence(
        "{value:g} {unit} can't be {spoken}. Check the column and the unit.",
        value=value,
        unit=unit,
        spoken=_NAMES[quantity],
    )
