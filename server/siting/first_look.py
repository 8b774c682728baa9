"""What a file looks like at first sight: its columns, a guess of how it is read, where it lies."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from shapely.geometry import MultiPolygon, Point, Polygon
from shapely.ops import nearest_points

from core.land.outline import WGS84 as GEOD
from core.siting.layer import LayerKind
from server.base.errors import RequestError
from server.base.schema import Schema
from server.siting.point_shapes import projection_name
from server.siting.read_layer import LayerPoints, read_frame, read_layer
from server.siting.reading import ColumnRole, LayerReading
from server.siting.roles import (
    kind_of,
    roles_of,
    speed_unit_of,
    unit_of,
    width_unit_of,
    year_of,
)

SHOWN_ROWS = 6


class LayerLook(Schema):
    """``near`` is the block nearest to the points, ``away_km`` how far that is (0 inside), and
    ``swapped_km`` how far it would be with the axes exchanged. ``placed`` is false for a
    picture that does not say where it lies. ``problem`` keeps the file from being read as it
    stands."""

    headings: list[str]
    rows: list[list[str]]
    total: int | None
    projection: str
    near: str
    away_km: float | None
    swapped_km: float | None
    placed: bool = True
    low: float | None
    high: float | None
    problem: str = ""


@dataclass(frozen=True)
class Place:
    """A block's name and outline, in WGS 84."""

    name: str
    outline: Polygon | MultiPolygon


def first_look(
    path: Path, file_name: str, places: list[Place], reading: LayerReading | None
) -> tuple[LayerLook, LayerReading]:
    """Look at a file's first rows, as a person said or by the likeliest reading.

    Raises
    ------
    RequestError
        When no table can be made of it.
    """
    frame = read_frame(path, sample=True, band=reading.band if reading else 1)
    headings = list(frame.rows.columns)
    used = reading or _guess(file_name, headings, frame.rows.to_dict(as_series=False))
    rows = [[_cell(c) for c in row] for row in frame.rows.head(SHOWN_ROWS).iter_rows()]
    look = LayerLook(
        headings=headings,
        rows=rows,
        total=frame.total if frame.total > frame.rows.height else None,
        projection=projection_name(used.projection or frame.projection) or "WGS 84",
        near="",
        away_km=None,
        swapped_km=None,
        placed=frame.placed,
        low=None,
        high=None,
    )
    try:
        points = read_layer(path, used, sample=True)
    except RequestError as refused:
        look.problem = " ".join([refused.message, *(p.message for p in refused.problems)])
        return look, used
    known = points.value[np.isfinite(points.value)]
    if len(known):
        look.low, look.high = (float(v) for v in np.percentile(known, [5, 95]))
    if places:
        look.near, look.away_km = nearest(points, places)
        exchanged = np.abs(points.lon) <= 90
        if look.away_km > 1 and exchanged.any():
            swapped = LayerPoints(
                points.lat[exchanged], points.lon[exchanged], points.value, None, None, None, 0
            )
            look.swapped_km = nearest(swapped, places)[1]
    return look, used


def nearest(points: LayerPoints, places: list[Place]) -> tuple[str, float]:
    """The block nearest to the middle of some points, and how far its outline is [km]."""
    middle = Point(float(np.median(points.lon)), float(np.median(points.lat)))
    away = {p.name: _away_km(middle, p.outline) for p in places}
    name = min(away, key=lambda n: away[n])
    return name, away[name]


def _away_km(point: Point, outline: Polygon | MultiPolygon) -> float:
    on_outline, _ = nearest_points(outline, point)
    _, _, metres = GEOD.inv(point.x, point.y, on_outline.x, on_outline.y)
    return float(metres) / 1000


def _cell(value: object) -> str:
    return f"{value:.6g}" if isinstance(value, float) else str(value or "")[:40]


def _guess(file_name: str, headings: list[str], columns: dict[str, list[object]]) -> LayerReading:
    roles = roles_of(headings)
    value = roles.get(ColumnRole.VALUE, "")
    kind = kind_of(file_name, value)

    def some(role: ColumnRole) -> list[float]:
        return _as_numbers(columns.get(roles.get(role, ""), []))

    return LayerReading(
        kind=kind,
        name=Path(file_name).stem[:80] or "layer",
        year=year_of(file_name) if kind is LayerKind.YIELD else None,
        columns=roles,
        unit=unit_of(value, some(ColumnRole.VALUE)),
        flow="flow" in value.lower(),
        speed_unit=speed_unit_of(roles.get(ColumnRole.SPEED, ""), some(ColumnRole.SPEED)),
        width_unit=width_unit_of(roles.get(ColumnRole.WIDTH, ""), some(ColumnRole.WIDTH)),
    )


def _as_numbers(cells: list[object]) -> list[float]:
    found: list[float] = []
    for cell in cells:
        try:
            found.append(float(str(cell).replace(",", ".")))
        except ValueError:
            continue
    return found
