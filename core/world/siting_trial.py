"""A trial of siting: simulated blocks through the whole path, beside their truth."""

from dataclasses import dataclass

import numpy as np
from shapely.geometry import box

from core.arrays import Bools, Ints
from core.siting.clean import clean
from core.siting.exclusions import NOT_EXCLUDED
from core.siting.gridding import gridded
from core.siting.layer import Layer, LayerKind
from core.siting.second_probe import pair_gain
from core.siting.spots import ranked, scored
from core.siting.stability import YearsSeen, years_seen
from core.siting.years import YearKind
from core.siting.zones import Feature, Zones, features_of, zones_of
from core.world.siting_field import KINDS, SitingField, harvested, simulated_field, surveyed

# Harvests in the order they count: of three years one is dry, one wet and one usual.
YEARS = (YearKind.DRY, YearKind.WET, YearKind.USUAL, YearKind.DRY)
FIRST_YEAR = 2020


@dataclass(frozen=True)
class TrialSpot:
    """The best spot of a zone, and the cell in the middle of that zone."""

    zone: Bools
    cell: int
    centre: int


@dataclass(frozen=True)
class SitingTrial:
    """What was found of a block. ``gains`` are a pair's, as told and in truth [-]."""

    field: SitingField
    years: YearsSeen
    zones: Zones
    spots: list[TrialSpot]
    gains: tuple[float, float]


def trial_field(number: int) -> SitingField:
    """The n-th simulated block: two to four zones, a flip-flop in most."""
    rng = np.random.default_rng(900 + number)
    kinds = [str(k) for k in rng.choice(list(KINDS), 2 + number % 3, replace=False)]
    if number % 2 == 0 and "flip-flop" not in kinds:
        kinds[0] = "flip-flop"
    return simulated_field(number, kinds)


def trial_layers(field: SitingField, years: int, *, survey: bool = True) -> list[Layer]:
    """Harvests of so many years, cleaned and gridded, and the conductivity survey."""
    raster = field.raster
    south = raster.north - raster.rows * raster.cell_m
    outline = box(raster.west, south, raster.west + raster.cols * raster.cell_m, raster.north)
    layers = []
    for number, kind in enumerate(YEARS[:years]):
        points = harvested(field, kind, FIRST_YEAR + number)
        kept = clean(points, outline).kept
        grid = gridded(points.x[kept], points.y[kept], points.value[kept], raster)
        year = FIRST_YEAR + number
        layers.append(Layer(LayerKind.YIELD, str(year), grid.value, grid.error, year))
    if survey:
        grid = gridded(*surveyed(field), raster)
        kind_of = LayerKind.CONDUCTIVITY_SHALLOW
        layers.append(Layer(kind_of, "survey", grid.value, grid.error))
    return layers


def looked_at(field: SitingField, years: int, *, survey: bool = True) -> SitingTrial:
    """Zones, spots and a pair's gain of a block by so many years and a survey."""
    layers = trial_layers(field, years, survey=survey)
    yields = [x for x in layers if x.kind is LayerKind.YIELD]
    seen = years_seen(yields, YEARS[:years])
    features = features_of(layers, seen, field.raster)
    zones = zones_of(features, field.raster)
    spots = [_spot(field, features, zones.label == z) for z in range(zones.count)]
    gains = _gains(field, features, zones.label, spots) if len(spots) > 1 else (0.0, 0.0)
    return SitingTrial(field, seen, zones, spots, gains)


def _spot(field: SitingField, features: list[Feature], zone: Bools) -> TrialSpot:
    free = np.full(len(zone), NOT_EXCLUDED)
    best = ranked(scored(features, field.raster, zone, zone, free), field.raster, most=1)[0]
    x, y = field.raster.middles()
    away = np.hypot(x - x[zone].mean(), y - y[zone].mean())
    return TrialSpot(zone, best, int(away.argmin()))


def _gains(
    field: SitingField, features: list[Feature], label: Ints, spots: list[TrialSpot]
) -> tuple[float, float]:
    """What a second probe adds, by the layers and in truth: by the same probe for each zone."""
    first, second = spots[0].cell, spots[1].cell
    told = pair_gain(features, first, second, label).gain
    truth = Feature("theta", field.theta, 0.0, of_soil=True)
    return told, pair_gain([truth], first, second, label).gain
