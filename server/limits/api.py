"""Limits of blocks: the list of all, one block in full, and dated changes."""

from collections.abc import Callable
from enum import StrEnum

from django.db.models import prefetch_related_objects
from django.http import HttpRequest
from ninja import Query, Router, Status

from core.crop.reference import SurfacesDiffer
from core.crop.season import Stage
from core.irrigation.system import SystemKind
from core.limits.by_day import BlockGround, limits_by_day
from core.limits.refill_method import REFILL_METHODS, LimitRule
from server.base.error_schema import ERRORS
from server.base.json_out import known
from server.base.moment import Day
from server.base.schema import Body, DoneOut
from server.base.signed_in import person
from server.blocks.limit_changes import set_refill_rule, timeline, undo_refill_rule, undo_soil
from server.blocks.loading import blocks_of
from server.blocks.schemas import BlockLine
from server.blocks.services import GROUND_PARTS, find_block
from server.farms.access import Access, enter
from server.limits.facts import block_facts, warmth_since
from server.limits.present import limits_out
from server.limits.schemas import BlockLimitsOut, RefillIn
from server.readings.water_table import water_tables
from server.water.equipment import wetted_share
from server.weather.recorded import farm_weather

router = Router(tags=["limits"])


class OnDay(Body):
    """The day asked; none is today."""

    on: Day | None = None


@router.get(
    "/farms/{slug}/block-list",
    response={200: list[BlockLine], **ERRORS},
    operation_id="block_list",
)
def block_list(request: HttpRequest, slug: str) -> list[BlockLine]:
    """Every block with its crop, soil and limits today; the limits of all in one pass."""
    farm = enter(person(request), slug).farm
    now = farm.now()
    blocks = list(blocks_of(farm, GROUND_PARTS))
    weather = farm_weather(farm, now, since=warmth_since(blocks, now.date()))
    facts = block_facts(farm, blocks, now, weather, water_tables(blocks, now))
    lines: dict[int, BlockLine] = {}
    grounds: dict[int, BlockGround] = {}
    for block in blocks:
        fact = facts[block.pk]
        soil = timeline(block.soils.all())[-1].soil
        lines[block.pk] = BlockLine(
            id=block.pk,
            name=block.name,
            area_m2=block.area_m2,
            outline_m2=block.outline_m2,
            soil_id=soil.pk,
            soil=soil.name,
            crop_key=fact.season.crop.key if fact.season else None,
            crop=fact.season.crop.name if fact.season else None,
            planted_on=fact.season.planted_on if fact.season else None,
            stage=None,
            refill_method=None,
            taw_mm=None,
            raw_mm=None,
            system=SystemKind(block.system_kind),
            wetted_share=wetted_share(block).share,
        )
        if fact.season is not None and fact.et is not None:
            try:
                season = fact.on_et_surface(fact.season, fact.et)
            except SurfacesDiffer:
                continue
            grounds[block.pk] = fact.ground(season)
    if grounds and weather.stated is not None:
        table = limits_by_day(list(grounds.values()), now.date(), 1)
        table = table.over_ground([lines[b].wetted_share for b in grounds])
        p = table.p(weather.stated.expected)[:, 0]
        stages = table.crop.stage[:, 0]
        for i, block_id in enumerate(grounds):
            line = lines[block_id]
            line.stage = Stage(str(stages[i]))
            line.refill_method = REFILL_METHODS[int(table.refill_method_index[i, 0])]
            line.taw_mm = float(table.taw_mm[i, 0])
            line.raw_mm = known(p[i] * table.taw_mm[i, 0])
    return list(lines.values())


@router.get(
    "/farms/{slug}/blocks/{block_id}/limits",
    response={200: BlockLimitsOut, **ERRORS},
    operation_id="block_limits",
)
def block_limits(
    request: HttpRequest, slug: str, block_id: int, day: Query[OnDay]
) -> BlockLimitsOut:
    """Full, refill and wilting on a day, by every method, and through the season."""
    access = enter(person(request), slug)
    farm, now = access.farm, access.now()
    block = find_block(access, block_id)
    prefetch_related_objects(
        [block],
        *(
            f"{rows}__{who}"
            for rows in ("soils", "refill_rules")
            for who in ("made_by", "undone_by")
        ),
    )
    weather = farm_weather(farm, now, since=warmth_since([block], now.date()))
    facts = block_facts(farm, [block], now, weather, water_tables([block], now))[block.pk]
    return limits_out(block, facts, day.on or now.date(), now.date())


@router.post(
    "/farms/{slug}/blocks/{block_id}/limits/refill",
    response={201: DoneOut, **ERRORS},
    operation_id="set_refill",
)
def set_refill(request: HttpRequest, slug: str, block_id: int, data: RefillIn) -> Status[DoneOut]:
    """Put a refill rule in force from a date, with its reason."""
    access = enter(person(request), slug)
    rule = LimitRule(data.refill_method, data.value, data.from_on, data.stage)
    set_refill_rule(access, [find_block(access, block_id)], rule, data.reason)
    return Status(201, DoneOut())


class Changed(StrEnum):
    """What of a block's limits was changed."""

    SOIL = "soil"
    REFILL = "refill"


_UNDO: dict[Changed, Callable[[Access, int], None]] = {
    Changed.SOIL: undo_soil,
    Changed.REFILL: undo_refill_rule,
}


@router.delete(
    "/farms/{slug}/blocks/{block_id}/limits/{kind}/{change_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="undo_limit_change",
)
def undo_change(
    request: HttpRequest, slug: str, block_id: int, kind: Changed, change_id: int
) -> DoneOut:
    """Undo a change; it stays on record."""
    access = enter(person(request), slug)
    find_block(access, block_id)
    _UNDO[kind](access, change_id)
    return DoneOut()
