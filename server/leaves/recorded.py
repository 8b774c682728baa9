"""Rounds of leaf readings as the core takes them."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from core.leaf.round import Leaf, LeafRound, Sky, vapour_pressure_deficit_kpa
from core.leaf.solar_noon import solar_noon
from server.blocks.models import Block
from server.farms.models import Farm
from server.leaves.models import StemRound, steering_of

READ_DAYS = 400


def core_round(row: StemRound, now: datetime, longitude: float | None, zone: ZoneInfo) -> LeafRound:
    """A round with its leaves, which should be prefetched; ``longitude`` None is not known."""
    middle = row.started_at + (row.ended_at - row.started_at) / 2
    after = None
    if longitude is not None:
        noon = solar_noon(middle.astimezone(zone).date(), longitude)
        after = (middle - noon).total_seconds() / 3600
    lasted = (row.ended_at - row.started_at).total_seconds() / 60
    vpd = None
    if row.air_c is not None and row.humidity is not None:
        vpd = vapour_pressure_deficit_kpa(row.air_c, row.humidity)
    return LeafRound(
        hours=min((middle - now).total_seconds() / 3600, 0.0),
        leaves=tuple(Leaf(x.zone, x.mpa) for x in row.leaves.all()),
        after_noon_h=after,
        sky=Sky(row.sky),
        lasted_min=lasted if lasted > 0 else None,
        bagged_min=row.bagged_min,
        vpd_kpa=vpd,
        kept=row.kept,
    )


def stem_rounds(farm: Farm, block: Block, now: datetime) -> list[StemRound]:
    """The rounds of a block that are not too old to count, newest first, with their leaves."""
    return list(
        StemRound.objects.for_farm(farm)
        .filter(block=block, started_at__gt=now - timedelta(days=READ_DAYS), started_at__lte=now)
        .select_related("made_by")
        .prefetch_related("leaves")
    )


def leaf_rounds(
    farm: Farm, blocks: Sequence[Block], now: datetime
) -> dict[int, tuple[LeafRound, ...]]:
    """Rounds of the blocks that are steered by their leaves, by block id; in one query for all."""
    steered = {b.pk for b in blocks if steering_of(b)}
    out: dict[int, list[LeafRound]] = {}
    if not steered:
        return {}
    rows = (
        StemRound.objects.for_farm(farm)
        .filter(
            block__in=steered, started_at__gt=now - timedelta(days=READ_DAYS), started_at__lte=now
        )
        .prefetch_related("leaves")
    )
    zone = ZoneInfo(farm.time_zone)
    for row in rows:
        out.setdefault(row.block_id, []).append(core_round(row, now, farm.longitude, zone))
    return {k: tuple(v) for k, v in out.items()}
