"""Soil areas on a block's raster: which lies where, and cells compared by them."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from core.arrays import Bools, Floats, Ints
from core.siting.raster import Raster
from core.siting.zones import Feature, smooth


class ZoneSource(StrEnum):
    """What zones are made of."""

    LAYERS = "layers"
    SOILS = "soils"


def holds(area: BaseGeometry, x: Floats, y: Floats) -> Bools:
    """Whether an area holds each of some points of its map [m], shape (n,)."""
    shapely.prepare(area)
    found: Bools = shapely.contains_xy(area, x, y)
    return found


def cells_in(area: BaseGeometry, raster: Raster) -> Bools:
    """Whether the middle of each cell lies in an area on the raster's map, shape (cells,)."""
    return holds(area, *raster.middles())


def soil_label(areas: Sequence[BaseGeometry], raster: Raster) -> Ints:
    """The first of some areas that holds each cell, shape (cells,); -1 where none does.

    Parameters
    ----------
    areas : sequence of geometry [m]
        On the raster's map.
    """
    label = np.full(int(raster.inside.sum()), -1)
    for number, area in enumerate(areas):
        label[cells_in(area, raster) & (label < 0)] = number
    return label


def by_area(label: Ints) -> Ints:
    """The same cells numbered from the largest, shape (cells,); -1 stays."""
    numbers, count = np.unique(label[label >= 0], return_counts=True)
    found = np.full(label.shape, -1)
    for place, number in enumerate(numbers[np.argsort(-count, kind="stable")]):
        found[label == number] = place
    return found


def soil_features(label: Ints, names: Sequence[str], raster: Raster) -> list[Feature]:
    """What cells are compared by where a soil survey alone is known: how much of what is around
    each is of a soil, in spreads over the block.

    Parameters
    ----------
    label : array of int, shape (cells,)
        Of `soil_label`.
    names : sequence of str
        By number.
    """
    found: list[Feature] = []
    for number, name in enumerate(names):
        share: Floats = smooth(np.where(label < 0, np.nan, label == number), raster)
        spread = float(np.nanstd(share)) or 1.0
        scaled = (share - np.nanmean(share)) / spread
        found.append(Feature(name, scaled, error=0.0, of_soil=True))
    # Where one soil is everywhere there is nothing to tell cells apart by, and one thing says so.
    return [f for f in found if np.nanstd(f.value) > 0] or found[:1]
