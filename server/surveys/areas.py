"""Surveyed areas cut to the farm, and put together by soil."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import shapely
from shapely.errors import GEOSException
from shapely.geometry import MultiPolygon, Polygon, box, shape
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points

from core.land.outline import WGS84
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.maps.files import FileFeatures

# Of the farm's surroundings that is kept, so that a border is seen to go on [degrees].
BEYOND = 0.003
AREAS = ("Polygon", "MultiPolygon")


@dataclass(frozen=True)
class Area:
    """One area of a survey on the farm; ``row`` counts features from 1."""

    row: int
    properties: Mapping[str, Any]
    geometry: Polygon | MultiPolygon


@dataclass(frozen=True)
class Areas:
    """The areas that lie on the farm, and how many lie beyond it."""

    kept: list[Area]
    beyond: int


def areas_on(found: FileFeatures, outlines: Sequence[BaseGeometry]) -> Areas:
    """Areas of a file, cut to the surroundings of some outlines; all of them where there are none.

    Borders that cross themselves, as surveys have them, are made good.

    Raises
    ------
    RequestError
        When a feature is no area, or none lies on the farm.
    """
    wrong = [f.row for f in found.features if _type(f.feature) not in AREAS]
    if wrong:
        raise RequestError(
            sentence("The file was not imported."),
            (Problem(row=wrong[0], message=sentence("This is no area. Export the soil areas.")),),
        )
    farm = shapely.union_all(list(outlines)) if outlines else None
    around = box(*farm.buffer(BEYOND).bounds) if farm is not None else None
    kept: list[Area] = []
    whole: list[BaseGeometry] = []
    for item in found.features:
        geometry = _valid(item.feature["geometry"], item.row)
        whole.append(geometry)
        if farm is not None and not geometry.intersects(farm):
            continue
        cut = _polygons(geometry if around is None else geometry.intersection(around))
        if cut is not None:
            kept.append(Area(item.row, _properties(item.feature), cut))
    if not kept:
        raise _beyond(whole, farm)
    return Areas(kept, len(found.features) - len(kept))


def together(areas: Sequence[Area]) -> Polygon | MultiPolygon:
    """Areas of one soil as one geometry."""
    found = _polygons(shapely.union_all([a.geometry for a in areas]))
    return found if found is not None else MultiPolygon()


def _type(feature: Mapping[str, Any]) -> str:
    return str((feature.get("geometry") or {}).get("type"))


def _properties(feature: Mapping[str, Any]) -> Mapping[str, Any]:
    found = feature.get("properties")
    return found if isinstance(found, dict) else {}


def _valid(geometry: Any, row: int) -> BaseGeometry:
    try:
        found = shapely.make_valid(shape(geometry))
        west, south, east, north = found.bounds
        on_earth = -180 <= west <= east <= 180 and -90 <= south <= north <= 90
    except (ValueError, TypeError, KeyError, IndexError, OverflowError, GEOSException):
        raise RequestError(
            sentence("The file was not imported."),
            (Problem(row=row, message=sentence("Its coordinates can't be read.")),),
        ) from None
    if not on_earth:
        raise RequestError(
            sentence("The projection is not known."),
            (
                Problem(
                    row=row,
                    field="projection",
                    message=sentence(
                        "The coordinates are metres and not longitude and latitude. Enter the "
                        "EPSG number of their projection, such as 32632."
                    ),
                ),
            ),
        )
    return found


def _polygons(geometry: BaseGeometry) -> Polygon | MultiPolygon | None:
    parts = [p for p in shapely.get_parts(geometry, return_index=False) if p.area > 0]
    flat = [q for p in parts for q in shapely.get_parts(p) if isinstance(q, Polygon)]
    if not flat:
        return None
    return flat[0] if len(flat) == 1 else MultiPolygon(flat)


def _beyond(whole: Sequence[BaseGeometry], farm: BaseGeometry | None) -> RequestError:
    if farm is None:
        return RequestError(sentence("The file holds no area."))
    near, away = min(
        (nearest_points(farm, g) for g in whole), key=lambda pair: pair[0].distance(pair[1])
    )
    _, _, metres = WGS84.inv(near.x, near.y, away.x, away.y)
    return RequestError(
        sentence("No area was imported."),
        (
            Problem(
                field="projection",
                message=sentence(
                    "The nearest area lies {away:,.0f} km from the farm's blocks. Is it another "
                    "projection, or does latitude come first?",
                    away=metres / 1000,
                ),
            ),
        ),
    )
