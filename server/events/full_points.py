"""The full points that a block's sensors have shown, by what they drained to after each wetting."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime

from core.learned.full_point import FullPoint, full_point
from server.blocks.models import Block
from server.blocks.record_days import first_day
from server.events.models import Wetting
from server.events.reading import midnight
from server.farms.models import Farm

FullPoints = Mapping[tuple[str, float], FullPoint]


def full_points(farm: Farm, block: Block) -> FullPoints:
    """By an instrument's label and a sensor's depth [mm], of this season; of all that is kept where
    this season tells too little. Sensors that tell nothing are left out."""
    return full_points_by_season(farm, block)[0]


def full_points_by_season(farm: Farm, block: Block) -> tuple[FullPoints, FullPoints]:
    """See `full_points`; and the same of the seasons before this one alone."""
    rows = Wetting.objects.for_farm(farm).filter(block=block).select_related("instrument")
    return told_by_season(block, list(rows), farm.now())


def told_by_season(
    block: Block, rows: Sequence[Wetting], now: datetime
) -> tuple[FullPoints, FullPoints]:
    """See `full_points_by_season`, of events that are at hand, with their instruments."""
    begin = midnight(first_day(block, now.date()), now)
    since = _told(row for row in rows if row.began_by >= begin)
    return {**_told(rows), **since}, _told(row for row in rows if row.began_by < begin)


def _told(rows: Iterable[Wetting]) -> dict[tuple[str, float], FullPoint]:
    levels: dict[tuple[str, float], list[float]] = {}
    for row in rows:
        for depth, theta in zip(row.depth_mm, row.drained_theta, strict=True):
            if theta is not None:
                levels.setdefault((row.instrument.label, depth), []).append(theta)
    found = {sensor: full_point(seen) for sensor, seen in levels.items()}
    return {sensor: point for sensor, point in found.items() if point is not None}
