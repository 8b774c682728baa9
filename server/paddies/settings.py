"""What a person says of a bunded rice field."""

from datetime import date
from typing import Annotated

from ninja import Field
from pydantic import AfterValidator

from core.ponded.field import PondedProblem, Started
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import Day
from server.base.schema import Body
from server.blocks.models import Block
from server.blocks.services import find_block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.paddies.models import Paddy, paddy_of


def _in_order(days: list[date]) -> list[date]:
    return sorted(set(days))


class PaddyIn(Body):
    """A field's bunds, start and own measurements; levels [mm], percolation [mm/day]."""

    bund_mm: float = Field(ge=0, le=2000)
    started: Started
    refill_to_mm: float = Field(ge=0, le=1000)
    keep_ponded_until: Day | None = None
    drying_from: Day | None = None
    percolation_mm_day: float | None = Field(None, ge=0, le=1000)
    porosity: float | None = Field(None, ge=0, le=1)
    nitrogen: Annotated[list[Day], Field(max_length=12), AfterValidator(_in_order)] = []


@acting(Action.SET_UP_GROUND)
def save_paddy(access: Access, block_id: int, data: PaddyIn) -> Paddy:
    """Describe the bunded field of a block, which is then watered as ponded rice.

    How deep it may be dried stays as it is, see `server.advice.threshold`.

    Raises
    ------
    RequestError
    """
    block = find_block(access, block_id)
    row = paddy_of(block) or Paddy(block=block)
    for name, value in data.model_dump(exclude={"nitrogen"}).items():
        setattr(row, name, value)
    row.nitrogen = [d.isoformat() for d in data.nitrogen]
    try:
        row.field  # noqa: B018 - it is checked by being made
    except PondedProblem as problem:
        raise RequestError(
            sentence("The field was not saved."),
            (Problem(field=problem.field, message=problem.message),),
        ) from None
    row.save()
    record(access, Done.PADDY_CHANGED, block.name, row.pk, block.pk)
    return row


def find_paddy(block: Block) -> Paddy:
    """The bunded field of a block.

    Raises
    ------
    NotFound
    """
    row = paddy_of(block)
    if row is None:
        raise NotFound(sentence("This block is not described as a rice field."))
    return row


@acting(Action.SET_UP_GROUND)
def remove_paddy(access: Access, block_id: int) -> None:
    """The block is no longer watered as ponded rice; the change history keeps what it was."""
    block = find_block(access, block_id)
    row = find_paddy(block)
    record(access, Done.PADDY_REMOVED, block.name, row.pk, block.pk)
    row.delete()


@acting(Action.LOG_WATER)
def log_nitrogen(access: Access, block_id: int, on: date) -> Paddy:
    """A planned dressing is done."""
    block = find_block(access, block_id)
    row = find_paddy(block)
    if on.isoformat() not in row.nitrogen:
        raise NotFound(sentence("No dressing is planned for that day."))
    row.nitrogen = [d for d in row.nitrogen if d != on.isoformat()]
    row.nitrogen_done = sorted({*row.nitrogen_done, access.now().date().isoformat()})
    row.save()
    record(access, Done.NITROGEN_APPLIED, block.name, row.pk, block.pk)
    return row
