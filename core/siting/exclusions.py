"""Where no probe goes: strips along trees, edges, tracks and the rest, each with its distance.

The distances are common practice, no source, unless one is named; each is a setting.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from core.arrays import Bools, Floats, Ints
from core.siting.raster import Raster


class ExclusionKind(StrEnum):
    EDGE = "edge and headland"
    TREES = "trees"
    FENCE = "fence"
    TRACK = "track"
    TRAFFIC_LANE = "traffic lane"
    BUILDING = "building"
    WET_SPOT = "wet spot"
    SPRING = "spring"
    FLOODING = "flooding"
    PIVOT_TOWER = "pivot tower and span overlap"
    ROW_END = "first and last emitters"
    DRAWN = "drawn by a person"


# From the thing to the nearest spot [m].
USUAL_M: MappingProxyType[ExclusionKind, float] = MappingProxyType(
    {
        ExclusionKind.EDGE: 18.0,
        # Roots of a tree line take water as far out as the trees are high, and shade farther.
        ExclusionKind.TREES: 50.0,
        ExclusionKind.FENCE: 10.0,
        ExclusionKind.TRACK: 10.0,
        ExclusionKind.TRAFFIC_LANE: 1.0,
        ExclusionKind.BUILDING: 20.0,
        ExclusionKind.WET_SPOT: 15.0,
        ExclusionKind.SPRING: 30.0,
        ExclusionKind.FLOODING: 0.0,
        ExclusionKind.PIVOT_TOWER: 5.0,
        ExclusionKind.ROW_END: 10.0,
        ExclusionKind.DRAWN: 0.0,
    }
)
MOST_M = 500.0
KINDS = tuple(ExclusionKind)
NOT_EXCLUDED = -1


@dataclass(frozen=True)
class Exclusion:
    """One thing to keep away from.

    Parameters
    ----------
    geometry : shapely geometry [m]
        On the raster's map; a line, a point or an area.
    distance_m : float [m]
    """

    kind: ExclusionKind
    geometry: BaseGeometry
    distance_m: float


def excluded_by(
    raster: Raster, exclusions: Sequence[Exclusion], masks: Sequence[tuple[ExclusionKind, Bools]]
) -> Ints:
    """What keeps a probe from each cell.

    Parameters
    ----------
    exclusions : sequence of Exclusion
    masks : sequence of (kind, array of bool, shape (cells,))
        Cells that were found by themselves, such as those that collect water.

    Returns
    -------
    array of int, shape (cells,)
        The first kind's place in `KINDS`, `NOT_EXCLUDED` where nothing does.
    """
    x, y = raster.middles()
    found = np.full(len(x), NOT_EXCLUDED)
    for place, kind in enumerate(KINDS):
        areas = [
            e.geometry.buffer(e.distance_m) if e.distance_m > 0 else e.geometry
            for e in exclusions
            if e.kind is kind
        ]
        here = np.zeros(len(x), bool)
        if areas:
            area = shapely.union_all(areas)
            shapely.prepare(area)
            here |= shapely.intersects_xy(area, x, y)
        for of_kind, mask in masks:
            if of_kind is kind:
                here |= mask
        found[here & (found == NOT_EXCLUDED)] = place
    return found


def rings(middle: tuple[float, float], radii_m: Sequence[float]) -> BaseGeometry:
    """The tracks of a pivot's towers, circles about its middle [m]."""
    point = shapely.Point(middle)
    return shapely.union_all([point.buffer(r, quad_segs=64).exterior for r in radii_m])


def lanes(outline: BaseGeometry, spacing_m: float, heading_degrees: float) -> BaseGeometry:
    """Lines across a block that machines keep to, so far apart, the first through its middle.

    Parameters
    ----------
    heading_degrees : float
        Clockwise from north.

    Raises
    ------
    ValueError
        When lanes are less than a metre apart.
    """
    if spacing_m < 1:
        raise ValueError("lanes must be at least a metre apart")
    west, south, east, north = outline.bounds
    middle = np.array([(west + east) / 2, (south + north) / 2])
    half = float(np.hypot(east - west, north - south)) / 2
    angle = np.radians(heading_degrees)
    along = np.array([np.sin(angle), np.cos(angle)])
    across = np.array([along[1], -along[0]])
    count = int(half // spacing_m)
    lines = [
        shapely.LineString([at - half * along, at + half * along])
        for at in (middle + k * spacing_m * across for k in range(-count, count + 1))
    ]
    return shapely.intersection(shapely.MultiLineString(lines), outline)


def row_ends(raster: Raster, heading_degrees: float, distance_m: float) -> Bools:
    """Cells within a distance of where the rows, and the laterals along them, begin or end.

    Parameters
    ----------
    heading_degrees : float
        Of the rows, clockwise from north.

    Returns
    -------
    array of bool, shape (cells,)
    """
    x, y = raster.middles()
    angle = np.radians(heading_degrees)
    along = x * np.sin(angle) + y * np.cos(angle)
    across = x * np.cos(angle) - y * np.sin(angle)
    row = np.round((across - across.min()) / raster.cell_m).astype(int)
    first, last = np.full(row.max() + 1, np.inf), np.full(row.max() + 1, -np.inf)
    np.minimum.at(first, row, along)
    np.maximum.at(last, row, along)
    return _near(along - first[row], distance_m, raster) | _near(
        last[row] - along, distance_m, raster
    )


def _near(away: Floats, distance_m: float, raster: Raster) -> Bools:
    # The row ends half a cell beyond the middle of its last cell.
    return away + raster.cell_m / 2 < distance_m
