"""Layers, zones and spots on the wire; positions are [longitude, latitude] in degrees."""

from datetime import datetime
from typing import Annotated, Any

from ninja import Field
from pydantic import AfterValidator

from core.instrument.kinds import InstrumentKind
from core.irrigation.system import SystemKind
from core.siting.exclusions import MOST_M, ExclusionKind
from core.siting.farm_cover import SlopeClass
from core.siting.layer import LayerKind
from core.siting.purpose import Purpose
from core.siting.soil_zones import ZoneSource
from core.siting.spots import ScoreTerm
from core.siting.years import YearKind
from core.siting.zones import MOST_ZONES
from server.base.language import Translated
from server.base.schema import Body, Schema
from server.siting.first_look import LayerLook
from server.siting.models import LayerFileState
from server.siting.reading import LayerReading
from server.siting.spot_schemas import Position, ProbeSpotOut, SpotLine

# Points of a layer that a person may put back or leave out.
MOST_BY_HAND = 20_000
Metres = Annotated[float, Field(ge=0, le=MOST_M)]


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


def _on_earth(ring: list[list[float]]) -> list[list[float]]:
    if not all(abs(lon) <= 180 and abs(lat) <= 90 for lon, lat in ring):
        raise ValueError("positions are longitude and latitude in degrees; draw the area again")
    return ring


# Positions are lists and not pairs, as GeoJSON has them.
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


class RasterOut(Schema):
    """Where the cells lie: metres from ``zero``, and metres in a degree there."""

    zero: Position
    metres_per_degree: tuple[float, float]
    west: float
    north: float
    cell_m: float
    rows: int
    cols: int


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


class SitingZoneOut(Schema):
    """``level`` is the yield in percent of the block's mean by kind of year; null where unknown.
    ``soils`` are shares of its area by soil zone of the map.
    """

    zone: int
    name: str
    area_m2: float
    flips: bool
    level: dict[str, float | None]
    medians: dict[str, float | None]
    soils: dict[str, float]


class SitingSoilOut(Schema):
    """A soil zone of the map in the block; ``soil_id`` is null where its soil is not described.
    One that is ``surveyed`` was not seen."""

    name: str
    soil: str
    soil_id: int | None
    surveyed: bool
    area_m2: float


class SitingTermOut(Schema):
    term: ScoreTerm
    value: float | None


class OffMedian(Schema):
    """How many spreads of the zone a layer lies from its median there."""

    layer: str
    spreads: float


class SitingSpotOut(Schema):
    """``score`` is null where a probe can't stand; ``kept_off`` says what by."""

    position: Position
    zone: int | None
    score: float | None
    kept_off: ExclusionKind | None
    terms: list[SitingTermOut]
    off_median: list[OffMedian]


class PairOut(Schema):
    spot: SitingSpotOut
    gain: float


class ZoneEditIn(Body):
    """An area, as a ring of [longitude, latitude], that belongs to a zone from 0. A number that no
    zone has makes a new one."""

    zone: int = Field(ge=0, lt=MOST_ZONES)
    ring: Ring


class SitingSettingsIn(Body):
    """Null leaves a thing to the usual. ``merged`` are zones by the zone they go with."""

    purpose: Purpose = Purpose.BLOCK
    zones_from: ZoneSource = ZoneSource.LAYERS
    zone_count: int | None = Field(None, ge=1, le=6)
    zone_names: list[Annotated[str, Field(max_length=60)]] = Field(
        default_factory=list, max_length=6
    )
    merged: dict[str, Annotated[int, Field(ge=0, le=5)]] = Field(default_factory=dict)
    zone_edits: list[ZoneEditIn] = Field(default_factory=list, max_length=50)
    zone: int | None = Field(None, ge=0, le=5)
    distances: dict[ExclusionKind, Metres] = Field(default_factory=dict)
    lane_spacing_m: float | None = Field(None, ge=1, le=200)
    row_heading: float | None = Field(None, ge=0, lt=360)
    tower_spacing_m: float | None = Field(None, ge=20, le=200)
    flood_level_m: float | None = Field(None, ge=-500, le=9000)
    base_height_m: float = Field(4.0, ge=0, le=100)


class InstrumentChoiceIn(Body):
    """``prices`` are of one instrument with its depths, as the person knows them."""

    visits_a_week: float = Field(default=1.0, ge=0, le=14)
    logged: bool = False
    tilled: bool = False
    prices: dict[InstrumentKind, Annotated[float, Field(ge=0, le=1e6)]] = Field(
        default_factory=dict
    )


class KindChoiceOut(Schema):
    kind: InstrumentKind
    name: Translated
    speaks_for: list[Translated]
    against: list[Translated]
    ruled_out: list[Translated]
    depths_mm: list[float]
    cost: float | None


class InstrumentChoiceOut(Schema):
    """What is known of the block, and all kinds beside it, those that suit best first."""

    block: str
    crop: str
    soil: str
    root_mm: float
    p: float | None
    refill_kpa: list[float]
    clay: float | None
    gravel: float
    ece_ds_m: float | None
    kinds: list[KindChoiceOut]


class CoverBlockOut(Schema):
    id: int
    name: str
    area_m2: float
    sites: list[str]
    has_layers: bool


class CoverGroupOut(Schema):
    """Blocks of one crop, soil, slope and system; ``value`` of their yield is null where one's is
    not known."""

    crop: str
    soil: str
    slope: SlopeClass
    system: SystemKind
    area_m2: float
    value: float | None
    sites: int
    blocks: list[CoverBlockOut]


class RainYearIn(Body):
    year: int = Field(ge=1950, le=2100)
    rain_mm: float = Field(ge=0, le=20_000)


class RainYearsIn(Body):
    """All years of the farm; those that are not told are forgotten."""

    years: list[RainYearIn] = Field(max_length=200)


class RainYearOut(Schema):
    """``rain_mm`` as entered and ``weather_mm`` of the farm's weather; null where not known."""

    year: int
    rain_mm: float | None
    weather_mm: float | None


class RainFileOut(Schema):
    """Years of a file."""

    years: list[RainYearIn]
    saved: bool


class CoverOut(Schema):
    """Groups, those first where one more site tells most; chosen spots by their blocks."""

    currency: str
    groups: list[CoverGroupOut]
    spots: list[SpotLine]


class SitingOut(Schema):
    """A block's siting. ``index`` is the mean silhouette by number of zones; ``zones_from`` what
    the zones are made of, which is the soils where there is no layer."""

    raster: RasterOut
    outline: dict[str, Any]
    layers: list[SitingLayerOut]
    years: int
    difference: float | None
    difference_told: bool
    mean: RasterData | None
    stability: RasterData | None
    soils: list[SitingSoilOut]
    soil_raster: RasterData | None
    zones_from: ZoneSource
    zone_raster: RasterData | None
    zones: list[SitingZoneOut]
    index: dict[int, float]
    suggested: int | None
    zone: int
    excluded: RasterData
    score: RasterData | None
    spots: list[SitingSpotOut]
    pair: PairOut | None
    settings: SitingSettingsIn
    usual_distances: dict[ExclusionKind, float]
    chosen: list[ProbeSpotOut]
