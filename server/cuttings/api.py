"""Calendars of cuts and grazings."""

from datetime import date

from django.http import HttpRequest
from ninja import Router

from core.crop.cutting import Harvested
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut, Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.cuttings.models import CutPlan, cut_plan_of
from server.cuttings.settings import CutPlanIn, remove_cut_plan, save_cut_plan
from server.farms.access import enter

router = Router(tags=["cuts"])


class CutPlanOut(Schema):
    """See `CutPlanIn`."""

    harvested: Harvested
    planned: list[date]
    every_days: int | None
    last_on: date | None
    dry_before_days: int
    taken_days: int | None
    rotation: str
    place: int


class CutPlanAnswer(Schema):
    """``plan`` is null where the block has no calendar."""

    plan: CutPlanOut | None


def _out(row: CutPlan) -> CutPlanOut:
    return CutPlanOut.model_validate(row)


@router.get(
    "/farms/{slug}/blocks/{block_id}/cut-plan",
    response={200: CutPlanAnswer, **ERRORS},
    operation_id="cut_plan",
)
def cut_plan(request: HttpRequest, slug: str, block_id: int) -> CutPlanAnswer:
    """The block's calendar of cuts or grazings."""
    row = cut_plan_of(find_block(enter(person(request), slug), block_id))
    return CutPlanAnswer(plan=_out(row) if row else None)


@router.put(
    "/farms/{slug}/blocks/{block_id}/cut-plan",
    response={200: CutPlanOut, **ERRORS},
    operation_id="save_cut_plan",
)
def save(request: HttpRequest, slug: str, block_id: int, data: CutPlanIn) -> CutPlanOut:
    """Cut or graze the block by a calendar; it makes its own holds."""
    return _out(save_cut_plan(enter(person(request), slug), block_id, data))


@router.delete(
    "/farms/{slug}/blocks/{block_id}/cut-plan",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_cut_plan",
)
def remove(request: HttpRequest, slug: str, block_id: int) -> DoneOut:
    """The block has no calendar any more."""
    remove_cut_plan(enter(person(request), slug), block_id)
    return DoneOut()
