"""The next round of leaf readings: when, how many leaves, which plants, in which order."""

from datetime import date, datetime
from typing import Any

from shapely.geometry import shape
from shapely.geometry.base import BaseGeometry

from core.land.outline import OutlineProblem, outline_of
from core.leaf.round import RoundSays
from core.leaf.sampling import (
    Spot,
    leaves_by_zone,
    leaves_wanted,
    round_times,
    spots_of,
)
from server.base.schema import Schema
from server.blocks.models import Block
from server.farms.models import Farm
from server.leaves.models import Steering
from server.maps.models import FeatureKind, MapFeature

LATEST_ROUNDS = 3


class ZoneLeaves(Schema):
    zone: str
    leaves: int


class SpotOut(Schema):
    """A plant to read, by its place in the walk from 1."""

    place: int
    zone: str
    longitude: float
    latitude: float


class NextRoundOut(Schema):
    """``noon``, ``bag_from``, ``read_from`` and ``read_until`` are null where the farm's place is
    not known; ``fits`` says whether so many leaves can be read about solar noon."""

    on: date
    leaves: list[ZoneLeaves]
    noon: datetime | None
    bag_from: datetime | None
    read_from: datetime | None
    read_until: datetime | None
    fits: bool | None
    spots: list[SpotOut]


def _geometry(stored: Any) -> BaseGeometry | None:
    """A stored outline, a feature or a bare geometry; None where it is none."""
    bare = stored.get("geometry", stored) if isinstance(stored, dict) else None
    try:
        return outline_of(bare) if bare else None
    except OutlineProblem:
        return None


def zone_outlines(farm: Farm, block: Block, names: list[str]) -> dict[str, BaseGeometry]:
    """Outlines of a block's zones: the part of it in the soil zone of that name on the plan, or all
    of the block where none is drawn; empty without an outline."""
    outline = _geometry(block.outline)
    if outline is None:
        return {}
    drawn = {
        f.name.casefold(): shape(f.geometry)
        for f in MapFeature.objects.for_farm(farm).filter(kind=FeatureKind.SOIL_ZONE)
        if f.geometry.get("type") in ("Polygon", "MultiPolygon")
    }
    out = {}
    for name in names:
        zone = drawn.get(name.casefold())
        part = outline.intersection(zone) if zone is not None and zone.is_valid else outline
        out[name] = outline if part.is_empty else part
    return out


def next_round(
    farm: Farm, block: Block, steering: Steering, latest: list[RoundSays], on: date
) -> NextRoundOut:
    """The round to be made on a day, by how uneven the latest ones found the block."""
    spread = [s.sd_mpa for s in latest[:LATEST_ROUNDS]]
    wanted = leaves_wanted(sum(spread) / len(spread) if spread else None)
    leaves = leaves_by_zone(wanted, steering.settled.zones)
    outlines = zone_outlines(farm, block, list(leaves))
    spots: tuple[Spot, ...] = spots_of(
        [(z, outlines[z], n) for z, n in leaves.items() if z in outlines]
    )
    count = sum(leaves.values())
    times = round_times(on, farm.longitude, count) if farm.longitude is not None else None
    return NextRoundOut(
        on=on,
        leaves=[ZoneLeaves(zone=z, leaves=n) for z, n in leaves.items()],
        noon=times.noon if times else None,
        bag_from=times.bag_from if times else None,
        read_from=times.read_from if times else None,
        read_until=times.read_until if times else None,
        fits=times.fits if times else None,
        spots=[SpotOut.model_validate(s) for s in spots],
    )
