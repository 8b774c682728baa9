"""Points from a zipped Shapefile or from GeoJSON; their attributes become the columns."""

import io
import json
import zipfile
from pathlib import Path
from typing import Any

import polars as pl
import shapefile
from pyproj import CRS

from core.sentence import sentence
from server.base.errors import RequestError
from server.files.broken_file import refuse_broken
from server.files.zipped_shapefile import shapefile_parts, table_encoding
from server.siting.layer_files.frames import MOST_POINTS, SAMPLE_ROWS, PointFrame

MOST_UNPACKED = 2 * 1024**3
# Columns that positions go by; none of a file's own.
EAST, NORTH = "position east", "position north"
# A point that a file lists without a place.
NOWHERE = (float("nan"), float("nan"))
TOO_LARGE = sentence("The archive is too large. Split it by fields or years.")
NOT_POINTS = sentence("The file holds areas or lines, and points are needed here.")


def read_point_shapefile(path: Path, *, sample: bool) -> PointFrame:
    """The points of a zipped Shapefile.

    Raises
    ------
    RequestError
        When a part is missing, or it holds no points.
    """
    broken = sentence("The Shapefile is broken. Export it again, and zip its parts together.")
    with refuse_broken(broken), zipfile.ZipFile(path) as packed:
        content = shapefile_parts(packed, MOST_UNPACKED, TOO_LARGE)
        parts = {e: io.BytesIO(content[e]) for e in ("shp", "dbf", "shx") if e in content}
        projection = content.get("prj", b"").decode("utf-8", "replace")
        letters = table_encoding(content)
        with shapefile.Reader(**parts, encoding=letters, encodingErrors="replace") as reader:
            total = len(reader)
            if reader.shapeTypeName not in ("POINT", "POINTZ", "POINTM"):
                raise RequestError(NOT_POINTS)
            _refuse_too_many(total)
            fields = [f[0] for f in reader.fields if f[0] != "DeletionFlag"]
            rows, at = [], []
            for found in reader.iterShapeRecords():
                at.append(found.shape.points[0][:2] if found.shape.points else NOWHERE)
                rows.append(tuple(found.record))
                if sample and len(rows) == SAMPLE_ROWS:
                    break
    columns = {f: [_text(r[i]) for r in rows] for i, f in enumerate(fields)}
    return PointFrame(_table(at, columns), projection, total)


def read_point_geojson(path: Path, *, sample: bool) -> PointFrame:
    """The points of a GeoJSON file, longitude first.

    Raises
    ------
    RequestError
    """
    with refuse_broken(sentence("This is not GeoJSON. Export it again, or import CSV.")):
        found = json.loads(path.read_text("utf-8-sig"))
        features = [f for f in found["features"] if isinstance(f, dict)]
        _refuse_too_many(len(features))
        if any(f["geometry"].get("type") != "Point" for f in features if f.get("geometry")):
            raise RequestError(NOT_POINTS)
        total = len(features)
        features = features[:SAMPLE_ROWS] if sample else features
        names = dict.fromkeys(n for f in features for n in (f.get("properties") or {}))
        columns = {n: [_text((f.get("properties") or {}).get(n)) for f in features] for n in names}
        at = [f["geometry"]["coordinates"][:2] if f.get("geometry") else NOWHERE for f in features]
        table = _table(at, columns)
    return PointFrame(table, "", total)


def projection_name(text: str) -> str:
    """A short name of a projection's description; empty where it can't be read."""
    try:
        return str(CRS.from_user_input(text).name)
    except Exception:
        return ""


def _table(at: list[Any], columns: dict[str, list[str]]) -> pl.DataFrame:
    places = {EAST: [repr(float(p[0])) for p in at], NORTH: [repr(float(p[1])) for p in at]}
    return pl.DataFrame(places | columns, schema_overrides=dict.fromkeys(columns, pl.String))


def _text(value: object) -> str:
    return "" if value is None else str(value)


def _refuse_too_many(count: int) -> None:
    if count > MOST_POINTS:
        raise RequestError(
            sentence(
                "The file holds {count:,} points; up to {most:,} are taken. Split it by fields or "
                "years.",
                count=count,
                most=MOST_POINTS,
            )
        )
    if count == 0:
        raise RequestError(sentence("The file holds no points."))
