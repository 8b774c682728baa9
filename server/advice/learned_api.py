"""What the field has shown of a block's limits, for the limits page."""

from datetime import date

from django.http import HttpRequest
from ninja import Router

from core.advice.assess import block_learned
from server.advice.answers import load
from server.base.error_schema import ERRORS
from server.base.schema import Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import enter

router = Router(tags=["limits"])


class LevelOut(Schema):
    site: str
    depth_mm: float
    book: float
    estimated: float
    sigma: float


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
    return MaybeLearned(
        learned=LearnedOut.model_validate(found, from_attributes=True) if found else None
    )
