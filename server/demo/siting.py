"""The demo's layers for siting: four harvests, a conductivity survey and elevations of the pivot.

All of it is simulated: a gravel tongue that is poor every year, a hollow that is poor in dry years
and good in wet ones, and the rest.
"""

import hashlib
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import shapely
from shapely.geometry import shape

from core.arrays import Floats, Ints
from core.land.outline import outline_of
from core.siting.layer import LayerKind
from core.siting.raster import Raster, raster_over
from core.siting.years import YearKind
from core.siting.yield_points import YieldPoints
from core.world.siting_field import field_of, harvested, smooth_field, surveyed
from server.blocks.models import Block
from server.demo.farm import NOW, SEED, ZONE
from server.demo.plan import OUTLINES, polygon
from server.farms.models import Farm
from server.siting.making import made_layer
from server.siting.models import LayerFile, LayerFileState, SitingLayer

BLOCK = "Long Tye"
# Year, its kind in truth, and the rain from April to September [mm].
HARVESTS = (
    (2022, YearKind.DRY, 170.0),
    (2023, YearKind.WET, 402.0),
    (2024, YearKind.USUAL, 240.0),
    (2025, YearKind.DRY, 165.0),
)
KINDS = ("high", "low", "flip-flop")
GRAVEL = polygon((560, 200), (730, 300), (720, 540), (600, 470), (540, 330))
HOLLOW = polygon((130, 440), (300, 430), (360, 560), (310, 680), (170, 610))
# Finer cells would make the demo's field sharper than any harvester draws it [m].
CELL_M = 10.0


def _zones(raster: Raster, rng: np.random.Generator) -> Ints:
    """The gravel and the hollow with winding borders, by the order of `KINDS`."""
    x, y = raster.middles()
    bend = 12.0 * smooth_field(rng, raster, 60.0)
    zone = np.zeros(len(x), int)
    for number, area in enumerate((GRAVEL, HOLLOW), start=1):
        ground = raster.frame.geometry(shape(area))
        shapely.prepare(ground)
        zone[shapely.contains_xy(ground, x + bend, y - bend)] = number
    return zone


def _elevations(raster: Raster, rng: np.random.Generator) -> tuple[Floats, Floats, Floats]:
    """Heights on a 10 m net [m]: a fall to the west, and the hollow's floor below its rim."""
    x, y = raster.middles()
    hollow = raster.frame.geometry(shape(HOLLOW)).centroid
    away = np.hypot(x - hollow.x, y - hollow.y)
    height = 6.0 + 0.004 * x + 0.25 * smooth_field(rng, raster, 120.0)
    return x, y, height - 1.1 * np.exp(-((away / 70) ** 2)) + rng.normal(0, 0.03, len(x))


def _store(
    farm: Farm, block: Block, name: str, kind: LayerKind, points: YieldPoints, **told: object
) -> None:
    """A file that was imported some time ago, and its layer."""
    outline = outline_of(OUTLINES[BLOCK])
    made = made_layer(points, kind, outline, {}, [], [])
    file = LayerFile(
        farm=farm,
        file_name=f"{name.replace(' ', '-')}.csv",
        sha256=hashlib.sha256(made.points).hexdigest(),
        size=len(points) * 60,
        state=LayerFileState.STORED,
        reading={"kind": str(kind), "name": name},
        report={
            "points": len(points),
            "without_position": 0,
            "blocks": [{"block": block.name, "points": made.point_count, "problem": ""}],
        },
    )
    file.save()
    SitingLayer(
        block=block,
        layer_file=file,
        kind=str(kind),
        name=name,
        points=made.points,
        point_count=made.point_count,
        grid=made.grid,
        cell_m=raster_over(outline).cell_m,
        outline_m2=block.outline_m2 or 0.0,
        facts=made.facts,
        **told,
    ).save()


def give_layers(farm: Farm, block: Block) -> None:
    """Four years of yield, a survey and elevations of the demo's pivot; simulated."""
    raster = raster_over(outline_of(OUTLINES[BLOCK]), CELL_M)
    rng = np.random.default_rng([SEED, 18])
    field = field_of(raster, _zones(raster, rng), KINDS, SEED)
    for year, kind, rain in HARVESTS:
        points = harvested(field, kind, year)
        told = {"year": year, "unit": "t/ha", "rain_mm": rain}
        _store(farm, block, f"Maize {year}", LayerKind.YIELD, points, **told)
    survey = YieldPoints(*surveyed(field))
    _store(farm, block, "Shallow survey", LayerKind.CONDUCTIVITY_SHALLOW, survey)
    heights = YieldPoints(*_elevations(raster, rng))
    _store(farm, block, "Elevation", LayerKind.ELEVATION, heights)
    uploaded = datetime(NOW.year, 2, 11, 10, tzinfo=ZoneInfo(ZONE))
    for number, file in enumerate(LayerFile.objects.for_farm(farm).order_by("pk")):
        at = uploaded + timedelta(minutes=4 * number)
        LayerFile.objects.for_farm(farm).filter(pk=file.pk).update(made_at=at)
