"""Outlines from files: GeoJSON and zipped Shapefiles, in any common projection."""

import io
import json
import math
import zipfile
from dataclasses import dataclass
from typing import Any

import shapefile
from pyproj import CRS
from shapely.errors import GEOSException

from core.land.outline import OutlineProblem, corners, refuse_too_many_corners
from core.land.projection import WGS84, crs_of, swapped, to_wgs84
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.files.broken_file import refuse_broken
from server.files.zipped_shapefile import shapefile_parts, table_encoding

MAX_UNPACKED = 100 * 1024 * 1024
MAX_FEATURES = 2000
# Of all outlines together: 300 blocks drawn by satellite have 30 000.
MAX_CORNERS = 200_000
# Objects of a GeoJSON file: a feature is one, its geometry and its properties are two more.
MAX_OBJECTS = 20 * MAX_FEATURES


@dataclass(frozen=True)
class FileFeature:
    """A feature of a file in WGS 84; ``row`` counts features from 1."""

    row: int
    feature: dict[str, Any]


@dataclass(frozen=True)
class FileFeatures:
    """The features of a file, their projection, and the names their properties go by."""

    features: tuple[FileFeature, ...]
    projection: str
    properties: tuple[str, ...]


def _too_large(size: int, most: int) -> RequestError:
    return RequestError(
        sentence(
            "The file has {size:.0f} MB; up to {most:.0f} MB are taken. Leave out what lies beyond "
            "the farm, or simplify the outlines.",
            size=size / 1000000.0,
            most=most / 1000000.0,
        )
    )


def _moved(feature: dict[str, Any], row: int, crs: CRS, swap: bool) -> FileFeature:
    geometry = feature.get("geometry")
    try:
        refuse_too_many_corners(geometry)
        if swap:
            geometry = swapped(geometry or {})
        if crs is not WGS84:
            geometry = to_wgs84(geometry or {}, crs)
    except OutlineProblem as problem:
        raise RequestError(
            sentence("The file was not imported."), (Problem(row=row, message=problem.message),)
        ) from None
    except (
        ValueError,
        TypeError,
        KeyError,
        IndexError,
        AttributeError,
        OverflowError,
        GEOSException,
    ):
        raise RequestError(
            sentence("The file was not imported."),
            (
                Problem(
                    row=row,
                    message=sentence("The coordinates can't be read; export the file again."),
                ),
            ),
        ) from None
    if geometry is feature.get("geometry"):
        return FileFeature(row, feature)
    return FileFeature(row, {**feature, "geometry": geometry})


def _named_crs(collection: dict[str, Any], stated: str) -> CRS:
    """The projection stated by the person, or by the file in the old way, or WGS 84."""
    name = stated.strip()
    member = collection.get("crs")
    if not name and isinstance(member, dict):
        name = str((member.get("properties") or {}).get("name") or "")
    if not name or name.upper().endswith("CRS84"):
        return WGS84
    try:
        found = crs_of(name)
    except OutlineProblem as problem:
        raise RequestError(
            sentence("The file was not imported."),
            (Problem(field="projection", message=problem.message),),
        ) from None
    return WGS84 if found.equals(WGS84, ignore_axis_order=True) else found


def _no_number(name: str) -> float:
    raise ValueError(sentence("{name} is no number", name=name))


def _finite_number(text: str) -> float:
    found = float(text)
    return found if math.isfinite(found) else _no_number(text)


def read_geojson(data: bytes, projection: str, swap: bool) -> FileFeatures:
    """Features of a GeoJSON file.

    Raises
    ------
    RequestError
        With the feature's number and the cure.
    """
    if data.count(b"{") > MAX_OBJECTS:
        raise RequestError(
            sentence(
                "The file holds more than a farm's areas; up to {max_features} features are "
                "taken. Leave out what lies beyond the farm.",
                max_features=MAX_FEATURES,
            )
        )
    try:
        found = json.loads(
            data.decode("utf-8-sig"), parse_constant=_no_number, parse_float=_finite_number
        )
    except (UnicodeDecodeError, ValueError, RecursionError):
        raise RequestError(
            sentence(
                "This is not GeoJSON: it can't be read as JSON. Export it again, or import a "
                "zipped Shapefile."
            )
        ) from None
    if isinstance(found, dict) and found.get("type") == "Feature":
        found = {"type": "FeatureCollection", "features": [found]}
    if isinstance(found, dict) and found.get("type") in ("Polygon", "MultiPolygon"):
        feature = {"type": "Feature", "properties": {}, "geometry": found}
        found = {"type": "FeatureCollection", "features": [feature]}
    features = found.get("features") if isinstance(found, dict) else None
    if not isinstance(features, list) or not features:
        raise RequestError(
            sentence("The file holds no features. A FeatureCollection of polygons is needed.")
        )
    _check_count(len(features))
    for row, feature in enumerate(features, start=1):
        if not isinstance(feature, dict) or not isinstance(feature.get("geometry"), dict):
            raise RequestError(
                sentence("The file was not imported."),
                (
                    Problem(
                        row=row, message=sentence("This feature has no geometry; leave it out.")
                    ),
                ),
            )
    _check_corners(features)
    crs = _named_crs(found, projection)
    return _collected([_moved(f, i, crs, swap) for i, f in enumerate(features, 1)], crs)


def _check_count(count: int) -> None:
    if count > MAX_FEATURES:
        raise RequestError(
            sentence(
                "The file holds {count} features; up to {max_features} are taken. Leave out what "
                "lies beyond the farm.",
                count=count,
                max_features=MAX_FEATURES,
            )
        )


def _check_corners(features: list[dict[str, Any]]) -> None:
    total = sum(corners(f.get("geometry")) for f in features)
    if total > MAX_CORNERS and len(features) > 1:
        raise RequestError(
            sentence(
                "The outlines have {total} corners together; up to {max_corners} are taken. "
                "Simplify them, or import them in parts.",
                total=total,
                max_corners=MAX_CORNERS,
            )
        )


def _collected(features: list[FileFeature], crs: CRS) -> FileFeatures:
    names: dict[str, None] = {}
    for f in features:
        properties = f.feature.get("properties")
        names.update(dict.fromkeys(properties if isinstance(properties, dict) else ()))
    return FileFeatures(tuple(features), crs.name, tuple(str(n) for n in names))


def _shapefile_parts(data: bytes) -> dict[str, bytes]:
    """What a packed Shapefile is made of, by the parts' endings."""
    with (
        refuse_broken(sentence("This is not a zip archive. Zip the Shapefile's parts together.")),
        zipfile.ZipFile(io.BytesIO(data)) as packed,
    ):
        size = sum(i.file_size for i in packed.infolist())
        return shapefile_parts(packed, MAX_UNPACKED, _too_large(size, MAX_UNPACKED).message)


def read_shapefile(data: bytes, projection: str, swap: bool) -> FileFeatures:
    """Features of a zipped Shapefile; its .prj names the projection unless a person does.

    Raises
    ------
    RequestError
    """
    content = _shapefile_parts(data)
    crs = _shapefile_crs(content.get("prj"), projection)
    parts = {e: io.BytesIO(content[e]) for e in ("shp", "dbf", "shx") if e in content}
    with (
        refuse_broken(
            sentence("The Shapefile is broken. Export it again, and zip its parts together.")
        ),
        shapefile.Reader(**parts, encoding=table_encoding(content)) as reader,
    ):
        _check_count(len(reader))
        rows = [r.__geo_interface__ for r in reader.iterShapeRecords()]
    if not rows:
        raise RequestError(sentence("The Shapefile holds no features."))
    # A number that a table lacks is written as none in it.
    text = json.dumps([dict(r) for r in rows], default=str)
    plain = json.loads(text, parse_constant=lambda _: None)
    _check_corners(plain)
    return _collected([_moved(f, i, crs, swap) for i, f in enumerate(plain, 1)], crs)


def _shapefile_crs(prj: bytes | None, stated: str) -> CRS:
    if not stated.strip() and prj is None:
        raise RequestError(
            sentence("The projection is not known."),
            (
                Problem(
                    field="projection",
                    message=sentence("The archive has no .prj. Add it, or enter the EPSG number."),
                ),
            ),
        )
    try:
        return crs_of(stated if stated.strip() else (prj or b"").decode("utf-8", "replace"))
    except OutlineProblem as problem:
        raise RequestError(
            sentence("The projection is not known."),
            (Problem(field="projection", message=problem.message),),
        ) from None


def read_outlines(data: bytes, name: str, projection: str, swap: bool) -> FileFeatures:
    """Features of a file of either kind.

    Parameters
    ----------
    projection : str
        An EPSG number where the file does not say; empty otherwise.
    swap : bool
        Whether the file gives latitude first.
    """
    if not data:
        raise RequestError(sentence("The file is empty."))
    if data[:2] == b"PK":
        return read_shapefile(data, projection, swap)
    if name.lower().endswith((".shp", ".dbf", ".shx")):
        raise RequestError(
            sentence("A Shapefile has several parts. Zip .shp, .dbf, .shx and .prj together.")
        )
    return read_geojson(data, projection, swap)
