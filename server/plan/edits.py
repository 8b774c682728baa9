"""What people do with a run sheet: ask for one, take it, change it, undo."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from core.plan.over_slots import slot_starts
from core.plan.pulses import brought_in, hours_of
from core.plan.slots import SLOT_H, SLOTS
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record, record_each
from server.farms.rules import Action
from server.plan.in_use import current_edit, sheet_in_use, sheet_proposed
from server.plan.live_sets import live_sets
from server.plan.models import EditKind, RunSheet, SheetEdit, SheetStatus
from server.plan.money import money_after
from server.plan.schemas import BlockSetsIn, SheetSetIn
from server.plan.sheet_sets import SheetSet, dump_sets
from server.plan.stored import StoredBlock, StoredInputs
from server.plan.tasks import queue_plan

NOT_CHANGED = sentence("The run sheet was not changed.")
# Times are shown to the minute [h].
SAME_HOURS = 1 / 120


@acting(Action.DECIDE)
def ask_for_plan(access: Access) -> RunSheet:
    """Have a plan made; one that is being made already is the one."""
    rows = RunSheet.objects.for_farm(access.farm)
    waiting: RunSheet | None = rows.filter(status=SheetStatus.WAITING).first()
    if waiting is None:
        waiting = RunSheet(farm=access.farm, asked_at=access.now(), asked_by=access.user)
        waiting.save()
        record(access, Done.RUN_SHEET_PLANNED, thing=waiting.pk)
    queue_plan(waiting)
    return waiting


def find_proposed(access: Access, sheet_id: int) -> RunSheet:
    """The plan that nobody took yet.

    Raises
    ------
    NotFound
        Also when another was made since.
    """
    found = sheet_proposed(access.farm, sheet_in_use(access.farm))
    if found is None or found.pk != sheet_id:
        raise NotFound(sentence("There is no such proposed run sheet; reload the page."))
    return found


@acting(Action.DECIDE)
def take_sheet(access: Access, sheet_id: int) -> RunSheet:
    """Use a proposed plan from now on.

    Raises
    ------
    NotFound
    """
    sheet = find_proposed(access, sheet_id)
    sheet.taken_at = access.now()
    sheet.save(update_fields=["taken_at"])
    record(access, Done.RUN_SHEET_TAKEN, thing=sheet.pk)
    return sheet


@acting(Action.DECIDE)
def discard_sheet(access: Access, sheet_id: int) -> None:
    """Let a proposed plan go.

    Raises
    ------
    NotFound
    """
    sheet = find_proposed(access, sheet_id)
    record(access, Done.RUN_SHEET_DISCARDED, thing=sheet.pk)
    sheet.delete()


@dataclass(frozen=True)
class Changed:
    """A run sheet with some blocks' irrigations put in the place of those it had."""

    sheet: RunSheet
    edit: SheetEdit
    inputs: StoredInputs
    sets: list[SheetSet]
    blocks: tuple[StoredBlock, ...]


def with_changes(access: Access, based_on: int, changes: Sequence[BlockSetsIn]) -> Changed:
    """The sheet in use with changes to it, not saved.

    Parameters
    ----------
    based_on : number of the edit that was changed

    Raises
    ------
    RequestError
        Where somebody changed it in the meantime, or an irrigation can't be.
    """
    sheet = sheet_in_use(access.farm)
    if sheet is None or sheet.first_at is None:
        raise NotFound(sentence("There is no run sheet yet; plan one first."))
    edit = current_edit(sheet)
    if edit.number != based_on:
        raise RequestError(
            sentence(
                "Someone else changed the run sheet in the meantime. It is shown as it is now; "
                "make your change again."
            )
        )
    inputs = StoredInputs.model_validate(sheet.inputs)
    known = {b.block_id: b for b in inputs.blocks}
    live = live_sets(access.farm, edit)
    before, begun = live.sets, live.begun
    last = max([s.id for s in before], default=0)
    sets = [s for s in before if s.block_id not in {c.block_id for c in changes}]
    midnight = sheet.first_at.astimezone(access.now().tzinfo)
    starts = slot_starts(midnight)
    problems: list[Problem] = []
    for k, change in enumerate(changes):
        block = known.get(change.block_id)
        if block is None:
            problems.append(
                Problem(
                    sentence("This block is not on the run sheet."), field=f"blocks.{k}.block_id"
                )
            )
            continue
        own = {s.id: s for s in before if s.block_id == change.block_id}
        for j, one in enumerate(change.sets):
            field = f"blocks.{k}.sets.{j}"
            old = own.pop(one.id, None)
            made = _made(one, block, old)
            if made.start + made.slots > SLOTS:
                problems.append(
                    Problem(
                        sentence("It ends after the days of the run sheet."), field=f"{field}.start"
                    )
                )
                continue
            if old is not None and old.id in begun:
                # What began stays as it was announced; its log says what became of it.
                sets.append(old)
                continue
            moved = old is None or old.start != made.start
            if moved and starts[made.start] < access.now():
                problems.append(
                    Problem(sentence("It would start in the past."), field=f"{field}.start")
                )
                continue
            if made.id == 0 or old is None:
                last += 1
                made = made.model_copy(update={"id": last})
            sets.append(made)
        sets += [s for s in own.values() if s.id in begun]
    if problems:
        raise RequestError(NOT_CHANGED, tuple(problems))
    blocks = tuple(known[c.block_id] for c in changes)
    return Changed(sheet, edit, inputs, sets, blocks)


def _made(one: SheetSetIn, block: StoredBlock, old: SheetSet | None) -> SheetSet:
    """An irrigation by its hours; where they are those that it had, its depth stays to the last
    digit."""
    net = brought_in(one.hours, block.net_mm_h, block.pulses)
    slots = max(ceil(one.hours / SLOT_H - SAME_HOURS), 1)
    if old is not None and abs(_hours(old, block) - one.hours) <= SAME_HOURS:
        net, slots = old.net_mm, old.slots
    return SheetSet(
        id=one.id,
        block_id=block.block_id,
        start=one.start,
        slots=slots,
        net_mm=round(net, 4),
        pinned=one.pinned,
        irrigation_id=old.irrigation_id if old is not None else None,
    )


def _hours(one: SheetSet, block: StoredBlock) -> float:
    return hours_of(one.net_mm, block.net_mm_h, block.pulses)


@acting(Action.DECIDE)
def change_sheet(access: Access, based_on: int, changes: Sequence[BlockSetsIn]) -> SheetEdit:
    """Put blocks' irrigations in the place of those that the sheet had; broken rules are told, and
    forbid nothing.

    Raises
    ------
    RequestError
    """
    changed = with_changes(access, based_on, changes)
    numbers = [b.block_id for b in changed.blocks]
    shared = changed.inputs.shared()
    edit = SheetEdit(
        sheet=changed.sheet,
        number=_next_number(changed.sheet),
        kind=EditKind.CHANGED,
        sets=dump_sets(changed.sets),
        money=money_after(
            changed.sheet, changed.inputs, shared, changed.edit.money, changed.sets, numbers
        ),
        made_at=access.now(),
        made_by=access.user,
    )
    edit.save()
    entries = (Entry(b.name, edit.pk, b.block_id) for b in changed.blocks)
    record_each(access, Done.RUN_SHEET_CHANGED, entries)
    return edit


@acting(Action.DECIDE)
def undo_change(access: Access, based_on: int) -> SheetEdit:
    """Take the last change of the sheet in use back.

    Raises
    ------
    RequestError
        Where there is none since it was planned or announced, or somebody changed it.
    """
    sheet = sheet_in_use(access.farm)
    if sheet is None:
        raise NotFound(sentence("There is no run sheet yet; plan one first."))
    edit = current_edit(sheet)
    if edit.number != based_on:
        raise RequestError(
            sentence("Someone else changed the run sheet in the meantime; reload the page.")
        )
    if edit.kind != EditKind.CHANGED:
        raise RequestError(
            sentence("Nothing was changed since the run sheet was planned or announced.")
        )
    edit.undone_at = access.now()
    edit.save(update_fields=["undone_at"])
    record(access, Done.RUN_SHEET_CHANGED, thing=edit.pk)
    return current_edit(sheet)


def _next_number(sheet: RunSheet) -> int:
    newest: SheetEdit = SheetEdit.unscoped.filter(sheet=sheet).latest("number")
    return newest.number + 1
