"""The change history: who did what on the farm, newest first, and undoing it."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Field, Query, Router

from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.errors import NotFound, RequestError
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.farms.access import Access, enter
from server.farms.acting import UNDO
from server.farms.changes import Done
from server.farms.models import Change
from server.farms.rules import may

router = Router(tags=["farms"])


class EntryOut(Schema):
    """An entry. ``about`` is the name of what was changed as it was then; ``block_id`` the block
    it is part of; ``can_undo`` whether the person asking may undo it."""

    id: int
    at: datetime
    by: str | None
    done: Done
    about: str
    block_id: int | None
    undone_at: datetime | None
    undone_by: str | None
    can_undo: bool


class ChangesOut(Schema):
    """``older`` is what to ask for next as ``before``; null where there are none."""

    changes: list[EntryOut]
    older: int | None


class ChangesOf(Body):
    """Which entries: older than one, of one person, of one block, about something by a part of
    its name."""

    before: int | None = None
    by: int | None = None
    block_id: int | None = None
    find: str = Field("", max_length=80)
    limit: int = Field(100, ge=1, le=500)


def _out(access: Access, row: Change) -> EntryOut:
    done = Done(row.done)
    undo = UNDO.get(done)
    return EntryOut(
        id=row.pk,
        at=row.at,
        by=row.by.name if row.by else None,
        done=done,
        about=row.about,
        block_id=row.block,
        undone_at=row.undone_at,
        undone_by=row.undone_by.name if row.undone_by else None,
        can_undo=undo is not None
        and row.thing is not None
        and row.undone_at is None
        and may(access.role, undo.action),
    )


@router.get("/farms/{slug}/changes", response={200: ChangesOut, **ERRORS}, operation_id="changes")
def get_changes(request: HttpRequest, slug: str, of: Query[ChangesOf]) -> ChangesOut:
    """Entries of the change history, newest first."""
    access = enter(person(request), slug)
    rows = Change.objects.for_farm(access.farm).select_related("by", "undone_by")
    if of.before is not None:
        rows = rows.filter(pk__lt=of.before)
    if of.by is not None:
        rows = rows.filter(by=of.by)
    if of.block_id is not None:
        rows = rows.filter(block=of.block_id)
    if of.find:
        rows = rows.filter(about__icontains=of.find)
    found = list(rows.order_by("-pk")[: of.limit + 1])
    shown = found[: of.limit]
    return ChangesOut(
        changes=[_out(access, row) for row in shown],
        older=shown[-1].pk if len(found) > of.limit else None,
    )


@router.post(
    "/farms/{slug}/changes/{change_id}/undo",
    response={200: DoneOut, **ERRORS},
    operation_id="undo_change",
)
def undo_change(request: HttpRequest, slug: str, change_id: int) -> DoneOut:
    """Undo what an entry tells of; the entry stays, with who undid it.

    An entry of a kind that has no way back, or that was undone before, is refused.
    """
    access = enter(person(request), slug)
    row = Change.objects.for_farm(access.farm).filter(pk=change_id).first()
    if row is None:
        raise NotFound(sentence("There is no such entry in the change history."))
    undo = UNDO.get(Done(row.done))
    if undo is None or row.thing is None:
        raise RequestError(
            sentence("This change can't be undone here. Change it where it was made.")
        )
    if row.undone_at is not None:
        raise RequestError(sentence("This change was undone before."))
    undo.act(access, row.thing)
    return DoneOut()
