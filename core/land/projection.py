"""From a file's coordinate system to WGS 84, longitude first."""

from collections.abc import Mapping
from typing import Any

import numpy as np
from pyproj import CRS, Transformer
from pyproj.exceptions import CRSError
from shapely import transform
from shapely.geometry import mapping, shape

from core.land.outline import WGS84 as GEOD
from core.land.outline import OutlineProblem
from core.sentence import sentence

WGS84 = CRS.from_epsg(4326)
# Characters of well-known text: the longest descriptions in use have a few thousand.
LONGEST_TEXT = 20_000


def crs_of(text: str) -> CRS:
    """A coordinate system from its EPSG code, URN or well-known text.

    Raises
    ------
    OutlineProblem
    """
    if len(text) > LONGEST_TEXT:
        raise OutlineProblem(
            sentence("The description of the projection is too long; enter its EPSG number.")
        )
    try:
        return CRS.from_user_input(int(text) if text.strip().isdigit() else text.strip())
    except (CRSError, ValueError):
        raise OutlineProblem(
            sentence(
                "“{text}” is not a known projection. Enter its EPSG number, such as 32632.",
                text=text[:60],
            )
        ) from None


def to_wgs84(geometry: Mapping[str, Any], crs: CRS) -> dict[str, Any]:
    """A GeoJSON geometry moved into WGS 84; unchanged when it is there already.

    Raises
    ------
    OutlineProblem
        When a coordinate lies outside the projection's range.
    """
    if crs.equals(WGS84, ignore_axis_order=True) or crs.to_string().upper() in ("OGC:CRS84",):
        return dict(geometry)
    try:
        move = Transformer.from_crs(crs, WGS84, always_xy=True)
        moved = transform(
            shape(dict(geometry)), lambda xy: np.column_stack(move.transform(xy[:, 0], xy[:, 1]))
        )
    except Exception as problem:  # pyproj and GEOS raise many kinds for one cause
        raise OutlineProblem(
            sentence("The coordinates don't fit {crs}.", crs=crs.name)
        ) from problem
    if any(abs(v) == float("inf") for v in moved.bounds):
        raise OutlineProblem(
            sentence("The coordinates don't fit {crs}; is it another projection?", crs=crs.name)
        )
    return dict(mapping(moved))


FAR_KM = 300.0


def looks_swapped(west_south: tuple[float, float], home: tuple[float, float]) -> bool:
    """Whether a point lies far from home as it stands and near it with its axes exchanged.

    Parameters
    ----------
    west_south, home : (longitude, latitude) [degrees]
    """
    lon, lat = west_south
    if abs(lon) > 90:
        return False
    _, _, as_is = GEOD.inv(home[0], home[1], lon, lat)
    _, _, exchanged = GEOD.inv(home[0], home[1], lat, lon)
    return bool(as_is > FAR_KM * 1000 > exchanged)


def swapped(geometry: Mapping[str, Any]) -> dict[str, Any]:
    """The geometry with its two axes exchanged."""
    return dict(mapping(transform(shape(dict(geometry)), lambda xy: xy[:, ::-1])))
