"""A block's ground looked at: zones, and a score for every cell."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools
from core.siting.purpose import Purpose, zone_for
from core.siting.second_probe import PairGain, pair_gain
from core.siting.soil_zones import ZoneSource
from core.siting.spots import Scores, ranked, scored
from core.siting.zones import Zones
from server.blocks.models import Block
from server.siting.ground import Ground, block_ground
from server.siting.models import SitingSettings
from server.siting.zoning import (
    ZoneInputs,
    plain_zones,
    source_of,
    zone_inputs,
    zones_changed,
)


@dataclass(frozen=True)
class Pair:
    """A second spot in another zone, scored for that zone, and what it adds."""

    cell: int
    scores: Scores
    gain: PairGain


@dataclass(frozen=True)
class ZonedBlock:
    """A block's zones as they are used, and where a probe would stand.

    ``plain`` are the zones before any merge or edit, ``told`` what people said of them.
    """

    source: ZoneSource
    plain: Zones
    told: ZoneInputs
    zones: Zones
    zone: int
    scores: Scores
    spots: list[int]
    pair: Pair | None


@dataclass(frozen=True)
class BlockSiting:
    """All that a block's ground tells; ``zoned`` is None where nothing tells any zone."""

    ground: Ground
    zoned: ZonedBlock | None


def settings_of(block: Block) -> SitingSettings:
    """The block's settings; the usual ones where none were changed."""
    found: SitingSettings | None = SitingSettings.unscoped.filter(block=block).first()
    return found or SitingSettings(block=block)


def block_siting(block: Block, settings: SitingSettings) -> BlockSiting:
    """Look at a block that has an outline.

    Raises
    ------
    SitingProblem
        When the block is too small for a raster.
    """
    ground = block_ground(block, settings)
    return siting_on(ground, settings, plain_zones(ground, settings))


def siting_on(ground: Ground, settings: SitingSettings, plain: Zones | None) -> BlockSiting:
    """What ground tells that was looked at, in zones that may have been merged and edited."""
    if plain is None:
        return BlockSiting(ground, None)
    return BlockSiting(ground, zoned(ground, settings, plain, zone_inputs(settings, plain)))


def zoned(ground: Ground, settings: SitingSettings, plain: Zones, told: ZoneInputs) -> ZonedBlock:
    """Score every cell for what a probe is to represent, in zones as people changed them."""
    zones = zones_changed(plain, told, ground)
    purpose = Purpose(settings.purpose)
    zone = zone_for(purpose, zones.label, ground.years)
    if purpose is Purpose.DECISIONS and told.zone is not None:
        zone = told.zone if (zones.label == told.zone).any() else zone
    in_zone = zones.label == zone
    stands_for = zones.label >= 0 if purpose is Purpose.BLOCK else in_zone
    scores = _scores(ground, in_zone, stands_for)
    spots = ranked(scores, ground.raster)
    pair = _pair(ground, zones, zone, spots[0]) if spots else None
    return ZonedBlock(source_of(ground, settings), plain, told, zones, zone, scores, spots, pair)


def _scores(ground: Ground, target: Bools, stands_for: Bools) -> Scores:
    return scored(
        ground.features, ground.raster, target, stands_for, ground.excluded, ground.around.reach
    )


def _pair(ground: Ground, zones: Zones, zone: int, first: int) -> Pair | None:
    """The best spot of the other zone that adds most; None where there is one zone alone."""
    found: list[Pair] = []
    for other in np.unique(zones.label[zones.label >= 0]):
        target = zones.label == other
        if other == zone:
            continue
        scores = _scores(ground, target, target)
        for best in ranked(scores, ground.raster, most=1):
            gain = pair_gain(ground.features, first, best, zones.label)
            found.append(Pair(best, scores, gain))
    return max(found, key=lambda p: p.gain.gain, default=None)
