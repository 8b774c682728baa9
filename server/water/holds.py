"""Stretches in which blocks are not to be watered."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ninja import Field

from core.advice.holds import HoldKind
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import AHEAD, TOO_FAR_AHEAD, Moment, to_instant
from server.base.schema import Body, Keys, Schema
from server.blocks.services import find_blocks
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record_each
from server.farms.rules import Action
from server.water.models import Hold

LONGEST = timedelta(days=120)


class HoldIn(Body):
    """The same hold for one block or several; times without an offset are farm-local."""

    block_ids: Keys = Field(min_length=1)
    kind: HoldKind
    starts_at: Moment
    ends_at: Moment
    note: str = Field("", max_length=300)


class HoldOut(Schema):
    id: int
    block_id: int
    block: str
    kind: HoldKind
    starts_at: datetime
    ends_at: datetime
    note: str


def hold_out(row: Hold) -> HoldOut:
    """A hold with its block's name, which should be loaded."""
    return HoldOut(
        id=row.pk,
        block_id=row.block_id,
        block=row.block.name,
        kind=HoldKind(row.kind),
        starts_at=row.starts_at,
        ends_at=row.ends_at,
        note=row.note,
    )


@acting(Action.DECIDE)
def add_holds(access: Access, data: HoldIn) -> list[Hold]:
    """Keep water off blocks for a while; all or none.

    Raises
    ------
    RequestError
    """
    blocks = find_blocks(access, data.block_ids)
    zone = ZoneInfo(access.farm.time_zone)
    start, end = to_instant(data.starts_at, zone), to_instant(data.ends_at, zone)
    problems = []
    if start is None or end is None:
        problems.append(
            Problem(
                field="starts_at",
                message=sentence("That time was skipped when the clocks went forward."),
            )
        )
    elif end <= start:
        problems.append(Problem(field="ends_at", message=sentence("It ends before it starts.")))
    elif end <= access.now():
        problems.append(Problem(field="ends_at", message=sentence("It is over already.")))
    elif end > access.now() + AHEAD:
        problems.append(Problem(field="ends_at", message=TOO_FAR_AHEAD))
    elif end - start > LONGEST:
        problems.append(
            Problem(field="ends_at", message=sentence("A hold lasts 120 days at most."))
        )
    if problems or start is None or end is None:
        raise RequestError(sentence("The hold was not saved."), tuple(problems))
    rows = []
    for block in blocks:
        row = Hold(
            block=block,
            kind=str(data.kind),
            starts_at=start,
            ends_at=end,
            note=data.note.strip(),
            made_by=access.user,
        )
        row.save()
        rows.append(row)
    record_each(access, Done.HOLD_ADDED, (Entry(r.block.name, r.pk, r.block.pk) for r in rows))
    return rows


@acting(Action.DECIDE, undoes=(Done.HOLD_ADDED,))
def remove_hold(access: Access, hold_id: int) -> None:
    """Take a hold away; the change history keeps it."""
    row = Hold.objects.for_farm(access.farm).filter(pk=hold_id).first()
    if row is None:
        raise NotFound(sentence("There is no such hold on this farm."))
    row.delete()
