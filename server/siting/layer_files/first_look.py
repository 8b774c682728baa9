"""What a file looks like at first sight: its columns, a guess of how it is read, where it lies."""

from pathlib import Path

import numpy as np

from core.arrays import Floats
from core.siting.layer import LayerKind
from server.base.errors import RequestError
from server.base.schema import Schema
from server.siting.layer_files.frames import PointFrame
from server.siting.layer_files.places import FAR_KM, Place, nearest_place
from server.siting.layer_files.point_shapes import projection_name
from server.siting.layer_files.projection_guess import fitting_projection
from server.siting.layer_files.read_layer import on_earth, read_frame, read_layer, written_positions
from server.siting.layer_files.reading import ColumnRole, LayerReading
from server.siting.layer_files.roles import (
    flow_unit_of,
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
    picture that does not say where it lies. ``fitting`` is the EPSG number of a projection in which
    the positions lie on a block, looked for where the file names none or lies elsewhere; empty
    where none is needed or known. ``problem`` keeps the file from being read as it stands."""

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
    fitting: str = ""
    problem: str = ""


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
    used = reading or _guess(file_name, frame)
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
    guesses = reading is None and not frame.projection
    metres = None
    try:
        metres = _metres(frame, used)
        if metres and guesses:
            used.projection = look.fitting = fitting_projection(*metres, places)
            look.projection = projection_name(used.projection) or look.projection
        points = read_layer(path, used, sample=True)
    except RequestError as refused:
        look.problem = " ".join([refused.message, *(p.message for p in refused.problems)])
        if metres and not guesses:
            look.fitting = fitting_projection(*metres, places)
        return look, used
    known = points.value[np.isfinite(points.value)]
    if len(known):
        look.low, look.high = (float(v) for v in np.percentile(known, [5, 95]))
    if places:
        look.near, look.away_km = nearest_place(points.lon, points.lat, places)
        exchanged = np.abs(points.lon) <= 90
        if look.away_km > FAR_KM and exchanged.any():
            swapped = points.lat[exchanged], points.lon[exchanged]
            look.swapped_km = nearest_place(*swapped, places)[1]
        if look.away_km > FAR_KM and metres and not guesses:
            look.fitting = fitting_projection(*metres, places)
    return look, used


def _metres(frame: PointFrame, reading: LayerReading) -> tuple[Floats, Floats] | None:
    """East and north as written, where they can't be longitude and latitude."""
    written = written_positions(frame, reading) if frame.placed else None
    return None if written is None or on_earth(*written) else written


def _cell(value: object) -> str:
    return f"{value:.9g}" if isinstance(value, float) else str(value or "")[:40]


def _guess(file_name: str, frame: PointFrame) -> LayerReading:
    columns: dict[str, list[object]] = frame.rows.to_dict(as_series=False)
    roles = roles_of(columns)
    value = roles.get(ColumnRole.VALUE, "")
    # A picture that does not say where it lies was taken, not measured.
    kind = kind_of(file_name, value) or (LayerKind.YIELD if frame.placed else LayerKind.INDEX)

    def some(role: ColumnRole) -> list[float]:
        return _as_numbers(columns.get(roles.get(role, ""), []))

    def said(role: ColumnRole) -> str:
        """A column's heading, with the unit that stands below it in some files."""
        heading = roles.get(role, "")
        below = [str(c) for c in columns.get(heading, [])[:1] if not _as_numbers([c])]
        return " ".join([heading, *below])

    return LayerReading(
        kind=kind,
        name=Path(file_name).stem[:80] or "layer",
        year=year_of(file_name) if kind is LayerKind.YIELD else None,
        columns=roles,
        unit=unit_of(said(ColumnRole.VALUE), some(ColumnRole.VALUE)),
        flow="flow" in value.lower(),
        flow_unit=flow_unit_of(said(ColumnRole.VALUE)),
        speed_unit=speed_unit_of(said(ColumnRole.SPEED), some(ColumnRole.SPEED)),
        width_unit=width_unit_of(said(ColumnRole.WIDTH), some(ColumnRole.WIDTH)),
    )


def _as_numbers(cells: list[object]) -> list[float]:
    found: list[float] = []
    for cell in cells:
        try:
            found.append(float(str(cell).replace(",", ".")))
        except ValueError:
            continue
    return found
