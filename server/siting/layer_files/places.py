"""Where the farm's blocks lie, for files that must lie on them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry import MultiPolygon, Point, Polygon
from shapely.ops import nearest_points

from core.arrays import Floats
from core.land.outline import WGS84 as GEOD


@dataclass(frozen=True)
class Place:
    """A block's name and outline, in WGS 84."""

    name: str
    outline: Polygon | MultiPolygon


# Points that lie so far from all blocks are of another farm, or read in a wrong way [km].
FAR_KM = 1.0


def nearest_place(lon: Floats, lat: Floats, places: Sequence[Place]) -> tuple[str, float]:
    """The block nearest to the middle of some points, and how far its outline is [km]; 0 within."""
    point = Point(float(np.median(lon)), float(np.median(lat)))
    away = {p.name: _away_km(point, p.outline) for p in places}
    name = min(away, key=lambda n: away[n])
    return name, away[name]


def _away_km(point: Point, outline: Polygon | MultiPolygon) -> float:
    on_outline, _ = nearest_points(outline, point)
    _, _, metres = GEOD.inv(point.x, point.y, on_outline.x, on_outline.y)
    return float(metres) / 1000
