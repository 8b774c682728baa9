"""Plans of less water than the crop could use."""

from datetime import date

from django.http import HttpRequest
from ninja import Router

from core.crop.season import Stage
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut, Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.deficits.models import LessWater, less_water_of
from server.deficits.settings import LessWaterIn, remove_less_water, save_less_water
from server.farms.access import enter

router = Router(tags=["deficit"])


class StageWaterOut(Schema):
    """A stage with a share of ETc, or a share of the available water that may be used [-]."""

    stage: Stage
    use_share: float | None
    allowed: float | None


class LessWaterOut(Schema):
    stages: list[StageWaterOut]
    since: date | None
    application_mm: float | None


class LessWaterAnswer(Schema):
    """``plan`` is null where the block is watered as usual."""

    plan: LessWaterOut | None


def _out(row: LessWater) -> LessWaterOut:
    return LessWaterOut(
        stages=[
            StageWaterOut(stage=s, use_share=w.use_share, allowed=w.allowed)
            for s, w in row.plan.stages.items()
        ],
        since=row.since,
        application_mm=row.application_mm,
    )


@router.get(
    "/farms/{slug}/blocks/{block_id}/less-water",
    response={200: LessWaterAnswer, **ERRORS},
    operation_id="less_water",
)
def less_water(request: HttpRequest, slug: str, block_id: int) -> LessWaterAnswer:
    """The block's plan of less water."""
    row = less_water_of(find_block(enter(person(request), slug), block_id))
    return LessWaterAnswer(plan=_out(row) if row else None)


@router.put(
    "/farms/{slug}/blocks/{block_id}/less-water",
    response={200: LessWaterOut, **ERRORS},
    operation_id="save_less_water",
)
def save(request: HttpRequest, slug: str, block_id: int, data: LessWaterIn) -> LessWaterOut:
    """Water the block by a plan of less than it could use."""
    return _out(save_less_water(enter(person(request), slug), block_id, data))


@router.delete(
    "/farms/{slug}/blocks/{block_id}/less-water",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_less_water",
)
def remove(request: HttpRequest, slug: str, block_id: int) -> DoneOut:
    """The block is watered as usual again."""
    remove_less_water(enter(person(request), slug), block_id)
    return DoneOut()
