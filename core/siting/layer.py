"""A layer of a block on its raster: what it is of, and what is known of its error."""

from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

import numpy as np

from core.arrays import Floats


class LayerKind(StrEnum):
    YIELD = "yield"
    CONDUCTIVITY_SHALLOW = "shallow conductivity"
    CONDUCTIVITY_DEEP = "deep conductivity"
    ELEVATION = "elevation"
    INDEX = "vegetation index"
    SOIL = "soil property"


# Whether a layer tells of the soil itself and not of what grew on it.
OF_SOIL = MappingProxyType(
    {
        LayerKind.YIELD: False,
        LayerKind.CONDUCTIVITY_SHALLOW: True,
        LayerKind.CONDUCTIVITY_DEEP: True,
        LayerKind.ELEVATION: False,
        LayerKind.INDEX: False,
        LayerKind.SOIL: True,
    }
)


@dataclass(frozen=True)
class Layer:
    """Values on the raster.

    Parameters
    ----------
    value, error : array, shape (cells,)
        NaN where nothing is known; the error is a standard error in the values' unit.
    year : int, optional
        A harvest's; other layers stay from year to year.
    """

    kind: LayerKind
    name: str
    value: Floats
    error: Floats
    year: int | None = None


def percent_of_mean(layer: Layer) -> Floats:
    """A year's yield as percent of the block's mean of that year, shape (cells,) [%].

    Raises
    ------
    ValueError
        When the mean is not above zero.
    """
    mean = float(np.nanmean(layer.value))
    if not mean > 0:
        raise ValueError(f"the mean of {layer.name} must be above zero")
    return layer.value / mean * 100


# A normal spread is this many times the distance between its quartiles.
SPREADS_PER_QUARTILES = 0.7413


def in_spreads(layer: Layer) -> tuple[Floats, Floats]:
    """Values as robust spreads from the median, and their error [-].

    A layer without any spread becomes zero.
    """
    low, middle, high = np.nanpercentile(layer.value, [25, 50, 75])
    spread = (high - low) * SPREADS_PER_QUARTILES or float(np.nanstd(layer.value))
    if not spread > 0:
        return layer.value * 0.0, layer.error * 0.0
    return (layer.value - middle) / spread, layer.error / spread
