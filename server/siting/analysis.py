"""A block's layers looked at together: years, zones, and a score for every cell."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely.geometry import MultiPolygon, Polygon

from core.arrays import Bools, Ints
from core.instrument.kinds import kinds
from core.land.outline import outline_of
from core.siting.exclusions import excluded_by
from core.siting.layer import Layer, LayerKind
from core.siting.purpose import Purpose, zone_for
from core.siting.raster import Raster, raster_over
from core.siting.second_probe import PairGain, pair_gain
from core.siting.spots import Scores, ranked, scored
from core.siting.stability import YearsSeen, years_seen
from core.siting.years import YearKind, year_kinds
from core.siting.zones import Feature, Zones, features_of, zones_of
from server.blocks.models import Block
from server.instruments.models import Instrument
from server.maps.models import MapFeature
from server.siting.around import Around, around
from server.siting.models import SitingLayer, SitingSettings
from server.siting.packing import unpacked
from server.weather.models import WeatherDay

# Days of a year's rain that must be known for it to be told from the farm's weather.
ENOUGH_DAYS = 300


@dataclass(frozen=True)
class Pair:
    """A second spot in another zone, scored for that zone, and what it adds."""

    cell: int
    scores: Scores
    gain: PairGain


@dataclass(frozen=True)
class BlockSiting:
    """All that a block's layers tell. Zones are those in use: merged ones count as one.

    ``stale`` are layers made over another outline, which count for nothing until they are made
    again, ``unused`` those that a person left out; ``kinds`` the kind of each year of yield.
    Without a layer there are no zones.
    """

    raster: Raster
    outline: Polygon | MultiPolygon
    layers: list[tuple[SitingLayer, Layer]]
    stale: list[SitingLayer]
    unused: list[SitingLayer]
    kinds: dict[int, YearKind]
    years: YearsSeen | None
    features: list[Feature]
    zones: Zones | None
    zones_of: str
    zone: int
    around: Around
    excluded: Ints
    scores: Scores | None
    spots: list[int]
    pair: Pair | None


def settings_of(block: Block) -> SitingSettings:
    """The block's settings; the usual ones where none were changed."""
    found: SitingSettings | None = SitingSettings.unscoped.filter(block=block).first()
    return found or SitingSettings(block=block)


def _rain_by_year(block: Block, rows: Sequence[SitingLayer]) -> dict[int, float | None]:
    """Rain of each year with a yield: as entered with it, else of the farm's weather."""
    entered = {r.year: r.rain_mm for r in rows if r.year is not None}
    wanted = [y for y, mm in entered.items() if mm is None]
    known: dict[int, list[float]] = {}
    days = WeatherDay.objects.for_farm(block.farm).filter(
        date__year__in=wanted, rain_mm__isnull=False
    )
    for day, mm in days.values_list("date", "rain_mm") if wanted else ():
        known.setdefault(day.year, []).append(mm)
    return {
        y: mm if mm is not None else sum(known[y]) if len(known.get(y, ())) >= ENOUGH_DAYS else None
        for y, mm in sorted(entered.items())
    }


def _loggers(block: Block) -> list[tuple[float, float]]:
    """Where the farm's logged instruments stand [degrees]."""
    logged = [str(k) for k, facts in kinds().items() if facts.logged and facts.in_soil]
    rows = Instrument.objects.for_farm(block.farm).filter(kind__in=logged, position__isnull=False)
    return [(lon, lat) for lon, lat in rows.values_list("position", flat=True)]


def zones_key(rows: Sequence[SitingLayer], settings: SitingSettings) -> str:
    """What zones of a block's layers are made of: others, or another number, make other zones."""
    told = [(r.pk, r.facts, r.cleaning, r.put_back, r.put_aside, r.rain_mm) for r in rows if r.used]
    return hashlib.sha256(repr((told, settings.zone_count)).encode()).hexdigest()


def block_siting(block: Block, settings: SitingSettings) -> BlockSiting:
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
    of_year = year_kinds(_rain_by_year(block, used))
    yields = [x for x in layers if x.kind is LayerKind.YIELD]
    years = years_seen(yields, [of_year[x.year or 0] for x in yields]) if yields else None
    features = features_of(layers, years, raster)
    in_metres = raster.frame.geometry(outline)
    things = list(MapFeature.objects.for_farm(block.farm))
    near = around(in_metres, raster, things, layers, settings, _loggers(block))
    excluded = excluded_by(raster, near.exclusions, near.masks)
    empty = BlockSiting(
        raster,
        in_metres,
        pairs,
        stale,
        [r for r in rows if not r.used and r not in stale],
        of_year,
        years,
        features,
        None,
        "",
        0,
        near,
        excluded,
        None,
        [],
        None,
    )
    if not features:
        return empty
    zones = zones_of(features, raster, settings.zone_count)
    if zones.count < 1:
        return empty
    key = zones_key(rows, settings)
    if settings.zones_of == key:
        zones = replace(zones, label=_merged(zones.label, settings.merged))
    return _scored(replace(empty, zones=zones, zones_of=key), settings)


def _layer(row: SitingLayer) -> Layer:
    grid = unpacked(row.grid)
    return Layer(LayerKind(row.kind), row.name, grid["value"], grid["error"], row.year)


def _merged(label: Ints, merged: dict[str, int]) -> Ints:
    """Zones put together; the numbers of those that are left stay as they were."""
    found = label.copy()
    for zone, into in merged.items():
        found[found == int(zone)] = into
    return found


def _scored(siting: BlockSiting, settings: SitingSettings) -> BlockSiting:
    zones = siting.zones
    assert zones is not None  # noqa: S101 - of our own making
    purpose = Purpose(settings.purpose)
    zone = zone_for(purpose, zones.label, siting.years)
    if purpose is Purpose.DECISIONS and settings.zone is not None:
        zone = settings.zone if (zones.label == settings.zone).any() else zone
    in_zone = zones.label == zone
    whole = zones.label >= 0
    stands_for = whole if purpose is Purpose.BLOCK else in_zone
    scores = _scores(siting, in_zone, stands_for)
    spots = ranked(scores, siting.raster)
    return replace(
        siting,
        zone=zone,
        scores=scores,
        spots=spots,
        pair=_pair(siting, zones, zone, spots[0]) if spots else None,
    )


def _scores(siting: BlockSiting, target: Bools, stands_for: Bools) -> Scores:
    return scored(
        siting.features, siting.raster, target, stands_for, siting.excluded, siting.around.reach
    )


def _pair(siting: BlockSiting, zones: Zones, zone: int, first: int) -> Pair | None:
    """The best spot of the other zone that adds most; None where there is one zone alone."""
    found: list[Pair] = []
    for other in np.unique(zones.label[zones.label >= 0]):
        target = zones.label == other
        if other == zone:
            continue
        scores = _scores(siting, target, target)
        for best in ranked(scores, siting.raster, most=1):
            gain = pair_gain(siting.features, first, best, zones.label)
            found.append(Pair(best, scores, gain))
    return max(found, key=lambda p: p.gain.gain, default=None)
