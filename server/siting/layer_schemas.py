"""Layers as the API takes and gives them: files, cleaning, points, rasters."""

from datetime import datetime
from typing import Annotated, Any

from ninja import Field
from pydantic import AfterValidator

from core.siting.layer import LayerKind
from core.siting.years import YearKind
from server.base.language import Translated
from server.base.schema import Body, Schema
from server.siting.layer_files.first_look import LayerLook
from server.siting.layer_files.reading import LayerReading
from server.siting.models import LayerFileState
from server.siting.spots.schemas import Position

# Points of a layer that a person may put back or leave out.
MOST_BY_HAND = 20_000


class BlockPoints(Schema):
    """What became of a file in one block."""

    block: str
    points: int
    problem: Translated


class LayerFileReport(Schema):
    points: int
    without_position: int
    blocks: list[BlockPoints]


class LayerFileOut(Schema):
    """``done`` of ``total`` blocks are ready while it is stored."""

    id: int
    file_name: str
    size: int
    state: LayerFileState
    made_at: datetime
    made_by: str
    done: int
    total: int
    problem: Translated
    report: LayerFileReport | None


class LayerFileDetail(Schema):
    summary: LayerFileOut
    look: LayerLook | None
    reading: LayerReading | None


class CleaningIn(Body):
    """Rules that differ from the usual; null keeps the usual one. See the core's `Cleaning`."""

    headland_m: float | None = Field(None, ge=0, le=100)
    start_m: float | None = Field(None, ge=0, le=100)
    end_m: float | None = Field(None, ge=0, le=100)
    slowest: float | None = Field(None, ge=0, le=1)
    fastest: float | None = Field(None, ge=1, le=5)
    jump: float | None = Field(None, ge=0.05, le=5)
    overlap: float | None = Field(None, ge=0.1, le=1)
    spreads: float | None = Field(None, ge=1, le=10)


PointNumbers = Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=MOST_BY_HAND)]


# Positions are lists and not pairs, as GeoJSON has them.
def _on_earth(ring: list[list[float]]) -> list[list[float]]:
    if not all(abs(lon) <= 180 and abs(lat) <= 90 for lon, lat in ring):
        raise ValueError("positions are longitude and latitude in degrees; draw the area again")
    return ring


Ring = Annotated[
    list[Annotated[list[float], Field(min_length=2, max_length=2)]],
    Field(min_length=3, max_length=200),
    AfterValidator(_on_earth),
]


class PointArea(Body):
    """An area whose points are all left out, or all put back."""

    ring: Ring
    leave_out: bool


class LayerTrial(Body):
    """Rules to try. ``put_back`` and ``put_aside`` are places of points in the layer, from 0; null
    leaves what was said before, of these as of the rules."""

    cleaning: CleaningIn | None = None
    put_back: PointNumbers | None = None
    put_aside: PointNumbers | None = None
    area: PointArea | None = None


class LayerChange(Body):
    """Null leaves what was said before; see `LayerTrial`."""

    used: bool = True
    rain_mm: float | None = Field(None, ge=0, le=20_000)
    cleaning: CleaningIn | None = None
    put_back: PointNumbers | None = None
    put_aside: PointNumbers | None = None


class VariogramOut(Schema):
    model: str
    nugget: float
    partial_sill: float
    range_m: float


class LayerFacts(Schema):
    """``low`` and ``high`` hold nine of ten cells; ``error`` is the mean standard error."""

    by: str
    points: int
    mean: float | None
    low: float | None
    high: float | None
    error: float | None
    unknown_share: float
    dropped: dict[str, int]
    not_checked: list[str]
    variogram: VariogramOut | None


class RasterData(Schema):
    """One byte a cell as `core.siting.compact` says, in base 64."""

    data: str
    low: float
    high: float


class RasterOut(Schema):
    """Where the cells lie: metres from ``zero``, and metres in a degree there."""

    zero: Position
    metres_per_degree: tuple[float, float]
    west: float
    north: float
    cell_m: float
    rows: int
    cols: int


class SitingLayerOut(Schema):
    id: int
    kind: LayerKind
    name: str
    year: int | None
    year_kind: YearKind | None
    unit: str
    rain_mm: float | None
    used: bool
    stale: bool
    point_count: int
    cleaning: dict[str, float]
    facts: LayerFacts
    raster: RasterData | None


class LayerPointsOut(Schema):
    """Points of a layer on its block's plan, and what becomes of each.

    ``x`` and ``y`` count steps of ``step_m`` east of ``west`` and south of ``north``, 16 bits each;
    ``why`` is a byte, its place in ``reasons``; ``value`` a 32-bit float; all little-endian, in
    base 64. ``number`` are the places of the points drawn, 32 bits; null where all are.
    """

    name: str
    kind: LayerKind
    rain_mm: float | None
    used: bool
    unit: str
    raster: RasterOut
    outline: dict[str, Any]
    west: float
    north: float
    step_m: float
    x: str
    y: str
    why: str
    value: str
    number: str | None
    reasons: list[str]
    count: int
    dropped: dict[str, int]
    not_checked: list[str]
    cleaning: dict[str, float]
    put_back: list[int]
    put_aside: list[int]
