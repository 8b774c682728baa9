"""What is known of a block's ground: its layers, years and soils, and what lies around it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely.geometry import MultiPolygon, Polygon, shape

from core.arrays import Ints
from core.instrument.kinds import kinds
from core.land.outline import outline_of
from core.siting.exclusions import excluded_by
from core.siting.layer import Layer, LayerKind
from core.siting.raster import Raster, raster_over
from core.siting.soil_zones import by_area, soil_features, soil_label
from core.siting.stability import YearsSeen, years_seen
from core.siting.years import YearKind, year_kinds
from core.siting.zones import Feature, features_of
from server.blocks.models import Block
from server.instruments.models import Instrument
from server.maps.models import FeatureKind, MapFeature
from server.siting.around import Around, around
from server.siting.models import SitingLayer, SitingSettings
from server.siting.packing import unpacked
from server.siting.season_rain import rain_by_year


@dataclass(frozen=True)
class BlockSoils:
    """The soil zones of the map that lie in a block, from the largest.

    Parameters
    ----------
    label : array of int, shape (cells,)
        Which of ``zones`` lies there; -1 where none does.
    """

    label: Ints
    zones: list[MapFeature]


@dataclass(frozen=True)
class Ground:
    """All that is known of a block's ground.

    ``stale`` are layers made over another outline, which count for nothing until they are made
    again, ``unused`` those that a person left out; ``kinds`` the kind of each year of yield.
    ``features`` are of the layers, or of the soils where there is no layer; ``things`` are what is
    drawn on the farm's map.
    """

    raster: Raster
    outline: Polygon | MultiPolygon
    layers: list[tuple[SitingLayer, Layer]]
    stale: list[SitingLayer]
    unused: list[SitingLayer]
    kinds: dict[int, YearKind]
    years: YearsSeen | None
    soils: BlockSoils | None
    features: list[Feature]
    things: list[MapFeature]
    around: Around
    excluded: Ints

    @property
    def has_layers(self) -> bool:
        """Whether a layer is there that counts."""
        return bool(self.layers)


def block_ground(block: Block, settings: SitingSettings) -> Ground:
    """Look at a block that has an outline.

    Raises
    ------
    SitingProblem
        When the block is too small for a raster.
    """
    outline = outline_of((block.outline or {}).get("geometry"))
    raster = raster_over(outline)
    rows = list(SitingLayer.objects.for_farm(block.farm).filter(block=block).defer("points"))
    stale = [r for r in rows if r.outline_m2 != block.outline_m2]
    used = [r for r in rows if r.used and r not in stale]
    pairs = [(r, _layer(r)) for r in used]
    layers = [layer for _, layer in pairs]
    of_year = year_kinds(rain_by_year(block.farm, used))
    yields = [x for x in layers if x.kind is LayerKind.YIELD]
    years = years_seen(yields, [of_year[x.year or 0] for x in yields]) if yields else None
    things = list(MapFeature.objects.for_farm(block.farm).select_related("soil"))
    soils = _soils([t for t in things if t.kind == FeatureKind.SOIL_ZONE], raster)
    features = features_of(layers, years, raster)
    if not features and soils is not None:
        features = soil_features(soils.label, [z.name for z in soils.zones], raster)
    in_metres = raster.frame.geometry(outline)
    near, excluded = _around(block, in_metres, raster, things, layers, settings)
    return Ground(
        raster=raster,
        outline=in_metres,
        layers=pairs,
        stale=stale,
        unused=[r for r in rows if not r.used and r not in stale],
        kinds=of_year,
        years=years,
        soils=soils,
        features=features,
        things=things,
        around=near,
        excluded=excluded,
    )


def with_distances(ground: Ground, block: Block, settings: SitingSettings) -> Ground:
    """The same ground, with what keeps a probe off by other settings."""
    layers = [layer for _, layer in ground.layers]
    near, excluded = _around(block, ground.outline, ground.raster, ground.things, layers, settings)
    return replace(ground, around=near, excluded=excluded)


def _around(
    block: Block,
    outline: Polygon | MultiPolygon,
    raster: Raster,
    things: Sequence[MapFeature],
    layers: Sequence[Layer],
    settings: SitingSettings,
) -> tuple[Around, Ints]:
    near = around(outline, raster, things, layers, settings, _loggers(block))
    return near, excluded_by(raster, near.exclusions, near.masks)


def _layer(row: SitingLayer) -> Layer:
    grid = unpacked(row.grid)
    return Layer(LayerKind(row.kind), row.name, grid["value"], grid["error"], row.year)


def _soils(zones: Sequence[MapFeature], raster: Raster) -> BlockSoils | None:
    areas = [raster.frame.geometry(shape(z.geometry)) for z in zones]
    found = soil_label(areas, raster)
    if not (found >= 0).any():
        return None
    label = by_area(found)
    first = [int(found[np.argmax(label == n)]) for n in range(int(label.max()) + 1)]
    return BlockSoils(label, [zones[n] for n in first])


def _loggers(block: Block) -> list[tuple[float, float]]:
    """Where the farm's logged instruments stand [degrees]."""
    logged = [str(k) for k, facts in kinds().items() if facts.logged and facts.in_soil]
    rows = Instrument.objects.for_farm(block.farm).filter(kind__in=logged, position__isnull=False)
    return [(lon, lat) for lon, lat in rows.values_list("position", flat=True)]
