"""Telling people what runs: the irrigations of a run sheet scheduled, those that changed moved."""

from collections.abc import Sequence

from django.db.models import Max

from core.sentence import sentence
from server.base.errors import NotFound, RequestError
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.plan.changes_told import Pair, Run, pairs, told
from server.plan.in_use import current_edit, sheet_in_use
from server.plan.live_sets import live_sets
from server.plan.models import AnnouncedSet, Announcement, EditKind, RunSheet, SheetEdit
from server.plan.present import sets_out, starts_of
from server.plan.schemas import SetChangeOut, SheetSetOut
from server.plan.sheet_sets import SheetSet, dump_sets
from server.plan.stored import StoredInputs
from server.water.models import Irrigation

Status = Irrigation.Status


def announced_irrigations(farm: Farm) -> list[Irrigation]:
    """Irrigations that were announced and have not begun."""
    rows = Irrigation.objects.for_farm(farm).filter(status=Status.PLANNED, announced__isnull=False)
    return list(rows.select_related("block").order_by("started_at", "pk"))


def runs_of(rows: Sequence[SheetSetOut]) -> list[Run]:
    """Irrigations of a sheet to be held beside others, by their numbers on it."""
    return [Run(s.id, s.block_id, s.starts_at, s.ends_at) for s in rows]


def runs_on_record(rows: Sequence[Irrigation]) -> list[Run]:
    """Irrigations on record to be held beside others, by their own numbers."""
    return [Run(r.pk, r.block_id, r.started_at, r.ended_at) for r in rows]


def ahead_on_sheet(
    access: Access, sheet: RunSheet, edit: SheetEdit
) -> tuple[list[SheetSet], list[SheetSetOut]]:
    """Irrigations of a sheet that have not begun and are still to come."""
    inputs = StoredInputs.model_validate(sheet.inputs)
    live = live_sets(access.farm, edit)
    starts = starts_of(access, sheet)
    areas = dict(Block.objects.for_farm(access.farm).values_list("pk", "area_m2"))
    begun, now = live.begun, access.now()
    coming = [s for s in live.sets if s.id not in begun and starts[s.start] >= now]
    shown = sets_out(coming, inputs, areas, starts, live)
    known = {s.id for s in shown}
    return [s for s in coming if s.id in known], shown


def unannounced(access: Access, sheet: RunSheet) -> list[Pair]:
    """Every irrigation of the sheet in use beside what people were told of it."""
    _, shown = ahead_on_sheet(access, sheet, current_edit(sheet))
    # What was to begin and did not is not taken back by a plan: whoever runs it says so.
    before = [i for i in announced_irrigations(access.farm) if i.started_at >= access.now()]
    return pairs(runs_on_record(before), runs_of(shown))


@acting(Action.DECIDE)
def announce(access: Access, based_on: int) -> Announcement:
    """Schedule the irrigations of the sheet in use, and move or cancel those announced before.

    Raises
    ------
    RequestError
        Where somebody changed it in the meantime, or nothing differs from what people were told.
    """
    sheet = sheet_in_use(access.farm)
    if sheet is None:
        raise NotFound(sentence("There is no run sheet yet; plan one first."))
    edit = current_edit(sheet)
    if edit.number != based_on:
        raise RequestError(
            sentence(
                "Someone else changed the run sheet in the meantime. It is shown as it is now; "
                "look at it before you announce it."
            )
        )
    coming, shown = ahead_on_sheet(access, sheet, edit)
    before = {i.pk: i for i in announced_irrigations(access.farm) if i.started_at >= access.now()}
    found = pairs(runs_on_record(list(before.values())), runs_of(shown))
    names = {**{i.block_id: i.block.name for i in before.values()}, **_names(access.farm)}
    changes = told(found, names)
    if not changes:
        raise RequestError(sentence("Everybody was told of this run sheet already."))
    row = _numbered(access, sheet, coming, changes)
    of = {s.id: s for s in shown}
    became = {}
    for pair in found:
        if pair.after is None:
            if pair.before is not None:
                _cancel(before[pair.before.key])
        elif pair.before is None:
            became[pair.after.key] = _schedule(access, row, of[pair.after.key]).pk
        else:
            _move(before[pair.before.key], of[pair.after.key], row)
            became[pair.after.key] = pair.before.key
    sets = [
        s.model_copy(update={"irrigation_id": became.get(s.id, s.irrigation_id)})
        for s in live_sets(access.farm, edit).sets
    ]
    SheetEdit(
        sheet=sheet,
        number=SheetEdit.unscoped.filter(sheet=sheet).latest("number").number + 1,
        kind=EditKind.ANNOUNCED,
        sets=dump_sets(sets),
        money=edit.money,
        made_at=access.now(),
        made_by=access.user,
    ).save()
    record(access, Done.RUN_SHEET_ANNOUNCED, about=str(row.number), thing=row.pk)
    return row


def _names(farm: Farm) -> dict[int, str]:
    return dict(Block.objects.for_farm(farm).values_list("pk", "name"))


def _numbered(
    access: Access, sheet: RunSheet, coming: Sequence[SheetSet], changes: Sequence[SetChangeOut]
) -> Announcement:
    last = Announcement.objects.for_farm(access.farm).aggregate(last=Max("number"))["last"]
    row = Announcement(
        farm=access.farm,
        sheet=sheet,
        number=(last or 0) + 1,
        sets=dump_sets(coming),
        changes=[c.model_dump(mode="json") for c in changes],
        made_at=access.now(),
        made_by=access.user,
    )
    row.save()
    return row


def _schedule(access: Access, announcement: Announcement, one: SheetSetOut) -> Irrigation:
    row = Irrigation(
        block_id=one.block_id,
        status=Status.PLANNED,
        started_at=one.starts_at,
        ended_at=one.ends_at,
        gross_mm=one.gross_mm,
        planned_start_at=one.starts_at,
        planned_gross_mm=one.gross_mm,
        made_by=access.user,
    )
    row.save()
    AnnouncedSet(announcement=announcement, irrigation=row).save()
    return row


def _move(row: Irrigation, one: SheetSetOut, announcement: Announcement) -> None:
    before = (row.started_at, row.ended_at, row.gross_mm)
    if before == (one.starts_at, one.ends_at, one.gross_mm):
        return
    row.started_at, row.ended_at, row.gross_mm = one.starts_at, one.ends_at, one.gross_mm
    row.planned_start_at, row.planned_gross_mm = one.starts_at, one.gross_mm
    row.save()
    AnnouncedSet.unscoped.filter(irrigation=row).update(announcement=announcement)


def _cancel(row: Irrigation) -> None:
    row.status = Status.CANCELLED
    row.save()
