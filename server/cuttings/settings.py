"""What a person settles of a calendar of cuts or grazings."""

from datetime import date
from typing import Annotated

from ninja import Field
from pydantic import AfterValidator

from core.crop.cutting import CalendarProblem, Harvested
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import Day
from server.base.schema import Body
from server.blocks.models import Block
from server.blocks.services import find_block
from server.cuttings.models import LONGEST_NAME, CutPlan, cut_plan_of
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action

MOST_DATES = 24


def _in_order(days: list[date]) -> list[date]:
    return sorted(set(days))


class CutPlanIn(Body):
    """Settled dates, or days of growth between two; ``rotation`` names paddocks that are grazed one
    after the other by their ``place``. ``taken_days`` null lets hay follow the weather."""

    harvested: Harvested = Harvested.CUT
    planned: Annotated[list[Day], Field(max_length=MOST_DATES), AfterValidator(_in_order)] = []
    every_days: int | None = Field(None, ge=0, le=1000)
    last_on: Day | None = None
    dry_before_days: int = Field(3, ge=0, le=1000)
    taken_days: int | None = Field(None, ge=0, le=1000)
    rotation: str = Field("", max_length=LONGEST_NAME)
    place: int = Field(1, ge=1, le=1000)


@acting(Action.SET_UP_GROUND)
def save_cut_plan(access: Access, block_id: int, data: CutPlanIn) -> CutPlan:
    """Cut or graze a block by a calendar.

    Raises
    ------
    RequestError
    """
    block = find_block(access, block_id)
    row = cut_plan_of(block) or CutPlan(block=block)
    for name, value in data.model_dump(exclude={"planned"}).items():
        setattr(row, name, value)
    row.rotation = data.rotation.strip()
    row.planned = [d.isoformat() for d in data.planned]
    try:
        row.calendar()
    except CalendarProblem as problem:
        raise RequestError(
            sentence("The calendar was not saved."),
            (Problem(field=problem.field, message=problem.message),),
        ) from None
    if not (row.planned or row.every_days or row.rotation):
        message = sentence("Enter dates, the days of growth between two, or a rotation.")
        raise RequestError(
            sentence("The calendar was not saved."), (Problem(field="planned", message=message),)
        )
    row.save()
    record(access, Done.CUT_PLAN_CHANGED, block.name, row.pk, block.pk)
    return row


def find_cut_plan(block: Block) -> CutPlan:
    """The calendar of a block's cuts or grazings.

    Raises
    ------
    NotFound
    """
    row = cut_plan_of(block)
    if row is None:
        raise NotFound(sentence("This block has no calendar of cuts or grazings."))
    return row


@acting(Action.SET_UP_GROUND)
def remove_cut_plan(access: Access, block_id: int) -> None:
    """The block has no calendar any more; what was cut stays recorded."""
    block = find_block(access, block_id)
    row = find_cut_plan(block)
    record(access, Done.CUT_PLAN_REMOVED, block.name, row.pk, block.pk)
    row.delete()
