"""The projection of positions whose file names none, or a wrong one: where would they lie in it?"""

from collections.abc import Sequence

import numpy as np
from pyproj import Transformer
from pyproj.aoi import AreaOfInterest
from pyproj.database import query_crs_info
from pyproj.enums import PJType
from pyproj.exceptions import ProjError
from shapely.geometry import MultiPoint

from core.arrays import Floats
from core.land.projection import WGS84
from server.siting.layer_files.places import Place, nearest_place

# So far from a block's outline may the middle of the first rows lie: they can be a headland [km].
BESIDE_KM = 0.2
# Of several that fit to a few metres, what receivers write most; common practice, no source.
_USUAL = ("WGS 84 / UTM", "ETRS89 / UTM", "NAD83 / UTM", "GDA2020 / MGA", "WGS 84")


def fitting_projection(x: Floats, y: Floats, places: Sequence[Place]) -> str:
    """The EPSG number of the likeliest projection that puts positions on a block.

    All projections of the EPSG register that are in use where the farm lies are tried.

    Parameters
    ----------
    x, y : array, shape (n,)
        East and north as written.

    Returns
    -------
    str
        Empty where none fits.
    """
    known = np.isfinite(x) & np.isfinite(y)
    if not places or not known.any():
        return ""
    east, north = np.median(x[known], keepdims=True), np.median(y[known], keepdims=True)
    found = []
    for code, name in _used_at(places):
        lon, lat = _moved(code, east, north)
        if not (np.isfinite(lon) & np.isfinite(lat)).all():
            continue
        _, away_km = nearest_place(lon, lat, places)
        if away_km <= BESIDE_KM:
            usual = next((k for k, u in enumerate(_USUAL) if name.startswith(u)), len(_USUAL))
            found.append((usual, away_km, int(code), code))
    return min(found)[-1] if found else ""


def _used_at(places: Sequence[Place]) -> list[tuple[str, str]]:
    middle = MultiPoint([p.outline.centroid for p in places]).centroid
    here = AreaOfInterest(middle.x, middle.y, middle.x, middle.y)
    rows = query_crs_info("EPSG", pj_types=PJType.PROJECTED_CRS, area_of_interest=here)
    return [(r.code, r.name) for r in rows]


def _moved(code: str, east: Floats, north: Floats) -> tuple[Floats, Floats]:
    try:
        move = Transformer.from_crs(f"EPSG:{code}", WGS84, always_xy=True)
        lon, lat = move.transform(east, north)
    except ProjError:
        return np.full_like(east, np.nan), np.full_like(north, np.nan)
    return np.asarray(lon, float), np.asarray(lat, float)
