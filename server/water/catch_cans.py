"""Catch-can tests of a block's irrigation: what was caught, kept with its date."""

from typing import Annotated

from ninja import Field

from core.irrigation.catch_can import CatchProblem, uniformity
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import Day
from server.base.schema import Body
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.water.models import CatchCanTest

# No set puts on a metre of water, and no pivot is two kilometres long.
CaughtMm = Annotated[float, Field(ge=0, le=1000)]
FromPointM = Annotated[float, Field(ge=0, le=2000)]


class CatchIn(Body):
    """What each can caught [mm]; on a pivot its distance from the point [m]."""

    on: Day
    catch_mm: list[CaughtMm] = Field(max_length=500)
    distance_m: list[FromPointM] | None = Field(None, max_length=500)
    note: str = Field("", max_length=300)


def catch_cans_of(block: Block, data: CatchIn) -> CatchCanTest:
    """A test that can be worked out, not saved.

    Raises
    ------
    RequestError
    """
    try:
        uniformity(data.catch_mm, data.distance_m)
    except CatchProblem as problem:
        raise RequestError(
            sentence("The test can't be calculated."),
            (Problem(field="catch_mm", message=problem.message),),
        ) from None
    return CatchCanTest(
        block=block,
        on=data.on,
        catch_mm=data.catch_mm,
        distance_m=data.distance_m,
        note=data.note.strip(),
    )


@acting(Action.RECORD_READINGS)
def save_catch_cans(access: Access, block: Block, data: CatchIn) -> CatchCanTest:
    """Keep a test of a block.

    Raises
    ------
    RequestError
    """
    row = catch_cans_of(block, data)
    if row.on > access.now().date():
        raise RequestError(
            sentence("The test was not saved."),
            (Problem(field="on", message=sentence("It is in the future.")),),
        )
    row.save()
    record(access, Done.CATCH_CANS_ADDED, block.name, block=block.pk)
    return row


@acting(Action.RECORD_READINGS)
def delete_catch_cans(access: Access, block: Block, test_id: int) -> None:
    """Take a test of a block away.

    Raises
    ------
    NotFound
    """
    row = block.catch_can_tests.filter(pk=test_id).first()
    if row is None:
        raise NotFound(sentence("There is no such test."))
    row.delete()
    record(access, Done.CATCH_CANS_REMOVED, block.name, block=block.pk)
