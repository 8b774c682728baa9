"""What lies around a block on the map, on the block's own raster: what a probe keeps away from."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Point, Polygon, shape

from core.arrays import Bools, Floats
from core.siting.exclusions import USUAL_M, Exclusion, ExclusionKind, lanes, rings, row_ends
from core.siting.frame import Frame
from core.siting.layer import Layer, LayerKind
from core.siting.low_ground import flooded, wet_spots
from core.siting.raster import Raster
from core.siting.sight import clearance
from core.siting.spots import Reach
from server.maps.models import FeatureKind, MapFeature
from server.siting.models import SitingSettings

Position = tuple[float, float]

# What a thing on the map keeps a probe from; None where it doesn't.
EXCLUDES: Mapping[FeatureKind, ExclusionKind | None] = MappingProxyType(
    {
        FeatureKind.SOIL_ZONE: None,
        FeatureKind.PIPE: None,
        FeatureKind.PUMP: None,
        FeatureKind.INSTRUMENT: None,
        FeatureKind.TREE_LINE: ExclusionKind.TREES,
        FeatureKind.FENCE: ExclusionKind.FENCE,
        FeatureKind.TRACK: ExclusionKind.TRACK,
        FeatureKind.BUILDING: ExclusionKind.BUILDING,
        FeatureKind.WET_SPOT: ExclusionKind.WET_SPOT,
        FeatureKind.SPRING: ExclusionKind.SPRING,
        FeatureKind.NO_PROBE: ExclusionKind.DRAWN,
        FeatureKind.PIVOT: None,
        FeatureKind.GATE: None,
        FeatureKind.BASE_STATION: None,
    }
)


@dataclass(frozen=True)
class Around:
    """What keeps a probe from cells, and what a person has to reach."""

    exclusions: list[Exclusion]
    masks: list[tuple[ExclusionKind, Bools]]
    reach: Reach


def distance_of(settings: SitingSettings, kind: ExclusionKind) -> float:
    """How far a probe keeps away from a kind of thing [m]."""
    found = settings.distances.get(str(kind))
    return float(found) if found is not None else USUAL_M[kind]


def around(
    outline: Polygon | MultiPolygon,
    raster: Raster,
    features: Sequence[MapFeature],
    layers: Sequence[Layer],
    settings: SitingSettings,
    loggers: Sequence[Position],
) -> Around:
    """What lies on and around a block.

    Parameters
    ----------
    outline : Polygon or MultiPolygon [m]
        On the raster's map.
    loggers : sequence of (longitude, latitude)
        Instruments with a logger that a probe's cable could reach.
    """
    found = [
        Exclusion(ExclusionKind.EDGE, outline.boundary, distance_of(settings, ExclusionKind.EDGE))
    ]
    for feature in features:
        kind = EXCLUDES[FeatureKind(feature.kind)]
        if kind is not None:
            geometry = raster.frame.geometry(shape(feature.geometry))
            found.append(Exclusion(kind, geometry, distance_of(settings, kind)))
    masks: list[tuple[ExclusionKind, Bools]] = []
    if settings.lane_spacing_m and settings.row_heading is not None:
        lines = lanes(outline, settings.lane_spacing_m, settings.row_heading)
        away = distance_of(settings, ExclusionKind.TRAFFIC_LANE)
        found.append(Exclusion(ExclusionKind.TRAFFIC_LANE, lines, away))
    if settings.row_heading is not None:
        away = distance_of(settings, ExclusionKind.ROW_END)
        masks.append((ExclusionKind.ROW_END, row_ends(raster, settings.row_heading, away)))
    found += _towers(outline, raster.frame, features, settings)
    elevation = next((x.value for x in layers if x.kind is LayerKind.ELEVATION), None)
    if elevation is not None:
        masks.append((ExclusionKind.WET_SPOT, wet_spots(elevation, raster)))
        if settings.flood_level_m is not None:
            masks.append((ExclusionKind.FLOODING, flooded(elevation, settings.flood_level_m)))
    return Around(found, masks, _reach(raster, features, elevation, settings, loggers))


def _towers(
    outline: Polygon | MultiPolygon,
    frame: Frame,
    features: Sequence[MapFeature],
    settings: SitingSettings,
) -> list[Exclusion]:
    if not settings.tower_spacing_m:
        return []
    away = distance_of(settings, ExclusionKind.PIVOT_TOWER)
    found = []
    for feature in features:
        if feature.kind != FeatureKind.PIVOT:
            continue
        middle = frame.geometry(shape(feature.geometry))
        if outline.distance(middle) > settings.tower_spacing_m:
            continue
        farthest = outline.hausdorff_distance(middle)
        radii = np.arange(settings.tower_spacing_m, farthest, settings.tower_spacing_m)
        tracks = rings((middle.x, middle.y), [float(r) for r in radii])
        found.append(Exclusion(ExclusionKind.PIVOT_TOWER, tracks, away))
    return found


def _points(features: Sequence[MapFeature], kind: FeatureKind, frame: Frame) -> list[Point]:
    return [frame.geometry(shape(f.geometry)) for f in features if f.kind == kind]


def _reach(
    raster: Raster,
    features: Sequence[MapFeature],
    elevation: Floats | None,
    settings: SitingSettings,
    loggers: Sequence[Position],
) -> Reach:
    x, y = raster.middles()
    gates = _points(features, FeatureKind.GATE, raster.frame)
    wired = [raster.frame.geometry(Point(position)) for position in loggers]
    base = _nearest(_points(features, FeatureKind.BASE_STATION, raster.frame))
    over: Floats | None = None
    if base is not None and elevation is not None:
        cell = int(raster.cell_at(np.array([base.x]), np.array([base.y]))[0])
        # Outside of the block its ground is not known: it is taken as that of the nearest cell.
        if cell < 0:
            cell = int(np.hypot(x - base.x, y - base.y).argmin())
        height = float(elevation[cell]) + settings.base_height_m
        over = clearance(elevation, raster, (base.x, base.y), height)
    return Reach(_away(x, y, gates), _away(x, y, wired), over)


def _away(x: Floats, y: Floats, points: Sequence[Point]) -> Floats | None:
    """How far each cell is from the nearest of some points [m]; None where there are none."""
    if not points:
        return None
    away: Floats = np.min([np.hypot(x - p.x, y - p.y) for p in points], axis=0)
    return away


def _nearest(points: list[Point]) -> Point | None:
    return min(points, key=lambda p: float(shapely.distance(p, Point(0, 0))), default=None)
