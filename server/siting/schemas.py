"""Zones and spots on the wire; positions are [longitude, latitude] in degrees."""

from typing import Annotated, Any

from ninja import Field

from core.siting.exclusions import MOST_M, ExclusionKind
from core.siting.purpose import Purpose
from core.siting.soil_zones import ZoneSource
from core.siting.spots import ScoreTerm
from core.siting.zones import MOST_ZONES
from server.base.schema import Body, Schema
from server.siting.layer_schemas import RasterData, RasterOut, Ring, SitingLayerOut
from server.siting.spots.schemas import Position, ProbeSpotOut

Metres = Annotated[float, Field(ge=0, le=MOST_M)]


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
