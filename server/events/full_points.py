"""The full points that a block's sensors have shown, by what they drained to after each wetting."""

from collections.abc import Mapping

from core.learned.full_point import FullPoint, full_point
from server.blocks.models import Block
from server.events.models import Wetting
from server.farms.models import Farm


def full_points(farm: Farm, block: Block) -> Mapping[tuple[str, float], FullPoint]:
    """By an instrument's label and a sensor's depth [mm]; those that tell nothing are left out."""
    levels: dict[tuple[str, float], list[float]] = {}
    rows = Wetting.objects.for_farm(farm).filter(block=block).select_related("instrument")
    for row in rows:
        for depth, theta in zip(row.depth_mm, row.drained_theta, strict=True):
            if theta is not None:
                levels.setdefault((row.instrument.label, depth), []).append(theta)
    found = {sensor: full_point(seen) for sensor, seen in levels.items()}
    return {sensor: point for sensor, point in found.items() if point is not None}
