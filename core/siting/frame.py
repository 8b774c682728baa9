"""Metres east and north of a place on the farm, and back to longitude and latitude.

References
----------
.. [1] Karney, C. F. F. (2011), Transverse Mercator with an accuracy of a few nanometers,
   J. Geodesy 85:475-485, doi:10.1007/s00190-011-0445-3 (as in PROJ, through pyproj).
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from pyproj import CRS, Transformer
from shapely import transform
from shapely.geometry.base import BaseGeometry

from core.arrays import Floats
from core.land.projection import WGS84


# A transverse Mercator map about its own meridian stretches by half the square of the angle from
# it: 5 km away by less than one part in a million.
@lru_cache(maxsize=256)
def _moves(lon: float, lat: float) -> tuple[Transformer, Transformer]:
    here = CRS.from_proj4(f"+proj=tmerc +lon_0={lon!r} +lat_0={lat!r} +k=1 +ellps=WGS84 +units=m")
    return (
        Transformer.from_crs(WGS84, here, always_xy=True),
        Transformer.from_crs(here, WGS84, always_xy=True),
    )


@dataclass(frozen=True)
class Frame:
    """A map of its own for one block, true to scale in both directions [1]_.

    Parameters
    ----------
    lon, lat : float [degrees]
        Where the map has its zero.
    """

    lon: float
    lat: float

    def metres(self, lon: npt.ArrayLike, lat: npt.ArrayLike) -> tuple[Floats, Floats]:
        """East and north of the zero [m]; infinite where a position has no place on the map."""
        x, y = _moves(self.lon, self.lat)[0].transform(
            np.asarray(lon, float), np.asarray(lat, float)
        )
        return np.asarray(x, float), np.asarray(y, float)

    def degrees(self, x: npt.ArrayLike, y: npt.ArrayLike) -> tuple[Floats, Floats]:
        """Longitude and latitude of metres east and north [degrees]."""
        lon, lat = _moves(self.lon, self.lat)[1].transform(
            np.asarray(x, float), np.asarray(y, float)
        )
        return np.asarray(lon, float), np.asarray(lat, float)

    def geometry(self, in_degrees: BaseGeometry) -> BaseGeometry:
        """A geometry of WGS 84, longitude first, in metres of this map."""
        return transform(in_degrees, lambda xy: np.column_stack(self.metres(xy[:, 0], xy[:, 1])))

    def geometry_in_degrees(self, in_metres: BaseGeometry) -> BaseGeometry:
        """A geometry of this map in WGS 84, longitude first."""
        return transform(in_metres, lambda xy: np.column_stack(self.degrees(xy[:, 0], xy[:, 1])))


def frame_about(outline: BaseGeometry) -> Frame:
    """The map about the middle of an outline in WGS 84."""
    west, south, east, north = outline.bounds
    return Frame((west + east) / 2, (south + north) / 2)
