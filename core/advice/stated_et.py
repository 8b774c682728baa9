"""Reference ET that the days ahead are expected to have."""

from dataclasses import dataclass

from core.crop.reference import Surface


@dataclass(frozen=True)
class StatedEt:
    """Reference ET expected for the days ahead [mm/day], low < expected < high."""

    low: float
    expected: float
    high: float
    source: str
    surface: Surface = Surface.GRASS
