"""A file of points or a grid read as a person said: positions in WGS 84 and values in one unit."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
import polars as pl
from pyproj import Transformer
from pyproj.exceptions import ProjError

from core.arrays import Bools, Floats
from core.land.outline import OutlineProblem
from core.land.projection import WGS84, crs_of
from core.sentence import sentence
from core.siting.layer import LayerKind
from core.siting.yield_units import KG_S_PER, dry, t_ha_of_flow, t_ha_per
from core.units import MM_PER_FOOT, MM_PER_INCH
from server.base.errors import Problem, RequestError
from server.imports.numbers import read_numbers, uses_decimal_comma
from server.siting.layer_files.frames import PointFrame
from server.siting.layer_files.grid_file import read_grid
from server.siting.layer_files.point_shapes import read_point_geojson, read_point_shapefile
from server.siting.layer_files.point_table import read_point_table
from server.siting.layer_files.point_times import point_seconds
from server.siting.layer_files.reading import ColumnRole, LayerReading, LengthUnit, SpeedUnit

M_S_PER = {SpeedUnit.M_S: 1.0, SpeedUnit.KM_H: 1 / 3.6, SpeedUnit.MPH: 0.44704}
M_PER = {LengthUnit.M: 1.0, LengthUnit.FT: MM_PER_FOOT / 1000, LengthUnit.IN: MM_PER_INCH / 1000}
# Of GeoTIFF in both byte orders and both sizes, of PNG and of JPEG.
GRID_SIGNS = (b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+", b"\x89PNG", b"\xff\xd8\xff")
CORNERS = 4
# What is written where nothing was measured; common practice, no source.
NO_VALUE = (-999.0, -9999.0, -99999.0, -32768.0)


@dataclass(frozen=True)
class LayerPoints:
    """The points of a layer, each array of shape (n,), in the order of the file.

    Parameters
    ----------
    lon, lat : array [degrees]
    value : array
        Yields in t/ha, or percent where the file has shares; else as the file states them. NaN
        where a row has none.
    time_s, speed_m_s, width_m : array or None
    without_position : int
        Rows that were left out because their position can't be read.
    """

    lon: Floats
    lat: Floats
    value: Floats
    time_s: Floats | None
    speed_m_s: Floats | None
    width_m: Floats | None
    without_position: int


def read_frame(path: Path, *, sample: bool, band: int = 1) -> PointFrame:
    """The columns of a file of any kind that can be read.

    Raises
    ------
    RequestError
    """
    with path.open("rb") as file:
        head = file.read(512)
    if head[:2] == b"PK":
        return read_point_shapefile(path, sample=sample)
    if head.startswith(GRID_SIGNS) or head.lstrip().lower().startswith(b"ncols"):
        return read_grid(path, sample=sample, band=band)
    if head.lstrip(b"\xef\xbb\xbf \r\n\t")[:1] == b"{":
        return read_point_geojson(path, sample=sample)
    return read_point_table(path, sample=sample)


def read_layer(path: Path, reading: LayerReading, *, sample: bool = False) -> LayerPoints:
    """The points of a file, in WGS 84 and one unit.

    Raises
    ------
    RequestError
        When a column is missing, the projection is not known, or no row has a position.
    """
    frame = read_frame(path, sample=sample, band=reading.band)
    written = written_positions(frame, reading)
    value = _values(frame, reading)
    if written is None or value is None:
        raise _missing(reading)
    x, y = written if frame.placed else _between(*written, reading)
    lon, lat = _positions(x, y, reading, frame.projection)
    there = np.isfinite(lon) & np.isfinite(lat)
    if not there.any():
        raise RequestError(
            sentence("No row has a position that can be read. Choose other columns.")
        )
    speed = _numbers(frame, reading, ColumnRole.SPEED)
    width = _numbers(frame, reading, ColumnRole.WIDTH)
    if width is not None:
        width = width * M_PER[reading.width_unit]
    elif reading.width_m is not None:
        width = np.full(len(x), reading.width_m)
    return LayerPoints(
        lon[there],
        lat[there],
        value[there],
        _part(_times(frame, reading), there),
        _part(None if speed is None else speed * M_S_PER[reading.speed_unit], there),
        _part(width, there),
        int((~there).sum()),
    )


def written_positions(frame: PointFrame, reading: LayerReading) -> tuple[Floats, Floats] | None:
    """East and north as a file has them; None where a column is not chosen."""
    x, y = (_numbers(frame, reading, role) for role in (ColumnRole.EAST, ColumnRole.NORTH))
    if x is None or y is None:
        return None
    return (y, x) if reading.swap_axes and frame.placed else (x, y)


def on_earth(x: Floats, y: Floats) -> bool:
    """Whether most positions can be longitude and latitude."""
    known = np.isfinite(x) & np.isfinite(y)
    degrees = (np.abs(x) <= 180) & (np.abs(y) <= 90) & known
    return bool(degrees.sum() >= known.sum() / 2)


def _between(across: Floats, down: Floats, reading: LayerReading) -> tuple[Floats, Floats]:
    """Positions of a picture's cells between its corners, in straight lines."""
    if len(reading.corners) != CORNERS:
        raise RequestError(
            sentence("The picture does not say where it lies."),
            (
                Problem(
                    field="corners",
                    message=sentence(
                        "Enter where its corners lie: upper left, upper right, lower right, lower "
                        "left."
                    ),
                ),
            ),
        )
    upper_left, upper_right, lower_right, lower_left = reading.corners
    shares = (
        ((1 - across) * (1 - down), upper_left),
        (across * (1 - down), upper_right),
        (across * down, lower_right),
        ((1 - across) * down, lower_left),
    )
    return (
        sum((share * corner.east for share, corner in shares), np.zeros_like(across)),
        sum((share * corner.north for share, corner in shares), np.zeros_like(across)),
    )


def _part(values: Floats | None, there: Bools) -> Floats | None:
    return None if values is None else values[there]


def _missing(reading: LayerReading) -> RequestError:
    return RequestError(
        sentence("The file was not read: a column is not chosen."),
        tuple(
            Problem(field=f"columns.{role}", message=sentence("Choose the column of this."))
            for role in (ColumnRole.EAST, ColumnRole.NORTH, ColumnRole.VALUE)
            if role not in reading.columns
        ),
    )


def _column(frame: PointFrame, reading: LayerReading, role: ColumnRole) -> pl.Series | None:
    name = reading.columns.get(role)
    if not name:
        return None
    if name not in frame.rows.columns:
        raise RequestError(
            sentence("The file has no column “{name}”. Choose another.", name=name),
        )
    return frame.rows[name]


def _numbers(frame: PointFrame, reading: LayerReading, role: ColumnRole) -> Floats | None:
    column = _column(frame, reading, role)
    if column is None:
        return None
    if column.dtype.is_numeric():
        return column.to_numpy().astype(float)
    quick = column.str.strip_chars().cast(pl.Float64, strict=False)
    if quick.null_count() <= column.null_count():
        return quick.fill_null(float("nan")).to_numpy().astype(float)
    cells = column.fill_null("").to_list()
    return read_numbers(cells, uses_decimal_comma(cells[:1000]), frozenset())[0]


def _values(frame: PointFrame, reading: LayerReading) -> Floats | None:
    value = _numbers(frame, reading, ColumnRole.VALUE)
    if value is None:
        return None
    value = np.where(np.isin(value, NO_VALUE), np.nan, value)
    if reading.kind is not LayerKind.YIELD:
        return value
    if reading.flow:
        speed = _numbers(frame, reading, ColumnRole.SPEED)
        width = _numbers(frame, reading, ColumnRole.WIDTH)
        if speed is None or (width is None and reading.width_m is None):
            raise RequestError(
                sentence("A flow becomes a yield by speed and swath width. Choose their columns.")
            )
        metres = width * M_PER[reading.width_unit] if width is not None else reading.width_m
        with np.errstate(divide="ignore", invalid="ignore"):
            found = t_ha_of_flow(
                value * KG_S_PER[reading.flow_unit],
                speed * M_S_PER[reading.speed_unit],
                np.asarray(metres, float),
            )
        value = np.where(np.isfinite(found), found, np.nan)
    else:
        try:
            value = value * t_ha_per(reading.unit, reading.bushel_lb)
        except ValueError:
            raise RequestError(
                sentence("Enter what a bushel of the crop weighs."),
                (Problem(field="bushel_lb", message=sentence("Enter pounds per bushel.")),),
            ) from None
    moisture = _numbers(frame, reading, ColumnRole.MOISTURE)
    return (
        value
        if moisture is None
        else np.where(np.isfinite(moisture), dry(value, np.clip(moisture, 0, 90)), np.nan)
    )


def _times(frame: PointFrame, reading: LayerReading) -> Floats | None:
    column = _column(frame, reading, ColumnRole.TIME)
    if column is None:
        return None
    seconds = _numbers(frame, reading, ColumnRole.TIME)
    if seconds is not None and np.isfinite(seconds).mean() > 0.5:
        return seconds
    return point_seconds(column)


def _positions(x: Floats, y: Floats, reading: LayerReading, named: str) -> tuple[Floats, Floats]:
    text = reading.projection.strip() or named
    try:
        crs = crs_of(text) if text else None
    except OutlineProblem as problem:
        raise RequestError(
            sentence("The projection is not known."),
            (Problem(field="projection", message=problem.message),),
        ) from None
    if crs is None or crs.equals(WGS84, ignore_axis_order=True):
        if crs is None and not on_earth(x, y):
            raise RequestError(
                sentence("The projection is not known."),
                (
                    Problem(
                        field="projection",
                        message=sentence(
                            "The positions are metres and not longitude and latitude. Enter the "
                            "EPSG number of their projection, such as 32632."
                        ),
                    ),
                ),
            )
        degrees = (np.abs(x) <= 180) & (np.abs(y) <= 90)
        return np.where(degrees, x, np.nan), np.where(degrees, y, np.nan)
    try:
        moved = Transformer.from_crs(crs, WGS84, always_xy=True).transform(x, y)
    except ProjError:
        raise RequestError(
            sentence("The positions don't fit {crs}. Is it another?", crs=crs.name)
        ) from None
    lon, lat = (np.asarray(a, float) for a in moved)
    known = np.isfinite(lon) & np.isfinite(lat) & (lat != 0)
    return np.where(known, lon, np.nan), np.where(known, lat, np.nan)
