"""What the field has shown of a block's limits, for the limits page."""

from datetime import date

from django.http import HttpRequest
from ninja import Router

from core.learned.full_point import FullPoint
from core.regime.assess import block_learned
from server.advice.answers import load
from server.base.error_schema import ERRORS
from server.base.schema import Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.events.bring_up import bring_up
from server.events.full_points import full_points
from server.farms.access import enter

router = Router(tags=["limits"])


class FullPointOut(Schema):
    """What a sensor drained to, median of wetting events and its middle 80 percent [m3/m3]."""

    events: int
    theta: float
    low: float
    high: float


class LevelOut(Schema):
    """What a sensor reads at full [m3/m3]; ``drained`` is null where events tell too little."""

    site: str
    depth_mm: float
    book: float
    estimated: float
    sigma: float
    drained: FullPointOut | None


class LearnedOut(Schema):
    """Limits now [mm over the block], by the book and in force with their spread; see
    `core.advice.learned.Learned`."""

    on: date
    book_taw_mm: float
    book_raw_mm: float
    taw_mm: float
    taw_sigma_mm: float
    raw_mm: float
    raw_sigma_mm: float
    by_crop: bool
    use: float
    use_sigma: float
    arrives: float
    arrives_sigma: float
    p_share: float
    tension_share: float | None
    tension_kpa: float | None
    methods_differ: bool
    levels: list[LevelOut]


class MaybeLearned(Schema):
    """Null where nothing is estimated: no crop, or the sensors are taken at their word."""

    learned: LearnedOut | None


@router.get(
    "/farms/{slug}/blocks/{block_id}/learned",
    response={200: MaybeLearned, **ERRORS},
    operation_id="learned",
)
def learned(request: HttpRequest, slug: str, block_id: int) -> MaybeLearned:
    """What the block has shown of its limits, its crop and its sensors."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    found = block_learned(load(access.farm, [block], access.now()).inputs[block.pk])
    if found is None:
        return MaybeLearned(learned=None)
    bring_up(access.farm, [block.pk])
    drained = full_points(access.farm, block)
    levels = [
        LevelOut(**vars(level), drained=_drained(drained.get((level.site, level.depth_mm))))
        for level in found.levels
    ]
    return MaybeLearned(learned=LearnedOut(**{**vars(found), "levels": levels}))


def _drained(point: FullPoint | None) -> FullPointOut | None:
    return FullPointOut(**vars(point)) if point else None
