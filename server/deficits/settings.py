"""What a person settles of a plan of less water."""

from typing import Annotated

from ninja import Field

from core.crop.season import Stage
from core.deficit.plan import PLANNED_STAGES, DeficitProblem
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import Day
from server.base.schema import Body
from server.blocks.models import Block
from server.blocks.services import find_block
from server.deficits.models import LessWater, less_water_of
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action


class StageWaterIn(Body):
    """A stage with a share of ETc or a refill point of its own [-], one of the two."""

    stage: Stage
    use_share: float | None = Field(None, ge=0, le=2)
    allowed: float | None = Field(None, ge=0, le=1)


class LessWaterIn(Body):
    """Stages that get less than they could use; ``application_mm`` is net."""

    stages: Annotated[list[StageWaterIn], Field(max_length=len(PLANNED_STAGES))]
    since: Day | None = None
    application_mm: float | None = Field(None, gt=0, le=500)


@acting(Action.SET_UP_GROUND)
def save_less_water(access: Access, block_id: int, data: LessWaterIn) -> LessWater:
    """Water a block by a plan of less than it could use.

    Raises
    ------
    RequestError
    """
    block = find_block(access, block_id)
    row = less_water_of(block) or LessWater(block=block)
    row.stages = {
        str(s.stage): {"use_share": s.use_share, "allowed": s.allowed} for s in data.stages
    }
    row.since, row.application_mm = data.since, data.application_mm
    try:
        row.plan  # noqa: B018 - it is checked by being made
    except DeficitProblem as problem:
        raise RequestError(
            sentence("The plan was not saved."),
            (Problem(field=problem.field, message=problem.message),),
        ) from None
    row.save()
    record(access, Done.LESS_WATER_CHANGED, block.name, row.pk, block.pk)
    return row


def find_less_water(block: Block) -> LessWater:
    """A block's plan of less water.

    Raises
    ------
    NotFound
    """
    row = less_water_of(block)
    if row is None:
        raise NotFound(sentence("This block has no plan of less water."))
    return row


@acting(Action.SET_UP_GROUND)
def remove_less_water(access: Access, block_id: int) -> None:
    """The block is watered as usual again; the change history keeps what the plan was."""
    block = find_block(access, block_id)
    row = find_less_water(block)
    record(access, Done.LESS_WATER_REMOVED, block.name, row.pk, block.pk)
    row.delete()
