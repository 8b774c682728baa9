"""The run sheet: planned, changed, announced."""

from django.http import HttpRequest
from ninja import Router, Status

from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.farms.access import Access, enter
from server.plan.announce import ahead_on_sheet, announce, runs_of, unannounced
from server.plan.changes_told import pairs, told
from server.plan.edits import (
    ask_for_plan,
    change_sheet,
    discard_sheet,
    take_sheet,
    undo_change,
    with_changes,
)
from server.plan.in_use import current_edit, newest_asked, sheet_in_use, sheet_proposed
from server.plan.jobs import alarms
from server.plan.live_sets import live_sets
from server.plan.models import Announcement, RunSheet, SheetStatus
from server.plan.present import sheet_out, totals_of, tried_out
from server.plan.schemas import (
    AnnouncedOut,
    EditIn,
    ProposalOut,
    RunSheetOut,
    SeasonWaterOut,
    SheetChangeIn,
    SheetTotals,
    TriedOut,
    WhyOut,
)
from server.plan.season_out import season_out
from server.plan.stored import StoredInputs
from server.plan.why import why

router = Router(tags=["run sheet"])


def _totals(access: Access, sheet: RunSheet) -> SheetTotals:
    inputs = StoredInputs.model_validate(sheet.inputs)
    edit = current_edit(sheet)
    sets = live_sets(access.farm, edit).sets
    return totals_of(inputs, inputs.shared(), sets, edit.money)


def _proposal(access: Access, used: RunSheet, sheet: RunSheet) -> ProposalOut:
    now = ahead_on_sheet(access, used, current_edit(used))[1]
    then = ahead_on_sheet(access, sheet, current_edit(sheet))[1]
    names = {
        b.block_id: b.name
        for s in (used, sheet)
        for b in StoredInputs.model_validate(s.inputs).blocks
    }
    return ProposalOut(
        id=sheet.pk,
        made_at=sheet.made_at or sheet.asked_at,
        same_days=sheet.first_at == used.first_at,
        totals=_totals(access, sheet),
        now_totals=_totals(access, used),
        changes=told(pairs(runs_of(now), runs_of(then)), names),
    )


def _announced(access: Access, used: RunSheet | None) -> AnnouncedOut | None:
    row = (
        Announcement.objects.for_farm(access.farm)
        .select_related("made_by")
        .order_by("-number")
        .first()
    )
    if row is None:
        return None
    differing = [p for p in unannounced(access, used) if p.change] if used else []
    return AnnouncedOut(
        number=row.number,
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else None,
        differs=len(differing),
    )


def _run_sheet(access: Access) -> RunSheetOut:
    used = sheet_in_use(access.farm)
    proposed = sheet_proposed(access.farm, used) if used else None
    newest = newest_asked(access.farm)
    failed = newest is not None and newest.status == SheetStatus.FAILED
    return RunSheetOut(
        now=access.now(),
        time_zone=access.farm.time_zone,
        planning=newest is not None and newest.status == SheetStatus.WAITING,
        failed=str(newest.outcome.get("incident", "")) if newest and failed else None,
        sheet=sheet_out(access, used) if used else None,
        proposal=_proposal(access, used, proposed) if used and proposed else None,
        announced=_announced(access, used),
        alarms=alarms(access.farm, access.now()),
    )


@router.get(
    "/farms/{slug}/run-sheet", response={200: RunSheetOut, **ERRORS}, operation_id="run_sheet"
)
def run_sheet(request: HttpRequest, slug: str) -> RunSheetOut:
    """The sheet in use, a proposed one beside it, and what was announced."""
    return _run_sheet(enter(person(request), slug))


@router.get(
    "/farms/{slug}/run-sheet/season",
    response={200: SeasonWaterOut, **ERRORS},
    operation_id="season_water",
)
def season_water(request: HttpRequest, slug: str) -> SeasonWaterOut:
    """By when each source must begin, and how what is left of its licence is best shared."""
    return season_out(enter(person(request), slug))


@router.post(
    "/farms/{slug}/run-sheet/plan",
    response={202: RunSheetOut, **ERRORS},
    operation_id="plan_run_sheet",
)
def plan(request: HttpRequest, slug: str) -> Status[RunSheetOut]:
    """Have a plan made by a worker; the first is used at once, later ones are proposed."""
    access = enter(person(request), slug)
    ask_for_plan(access)
    return Status(202, _run_sheet(access))


@router.post(
    "/farms/{slug}/run-sheet/proposals/{sheet_id}/take",
    response={200: RunSheetOut, **ERRORS},
    operation_id="take_run_sheet",
)
def take(request: HttpRequest, slug: str, sheet_id: int) -> RunSheetOut:
    """Use a proposed plan from now on."""
    access = enter(person(request), slug)
    take_sheet(access, sheet_id)
    return _run_sheet(access)


@router.delete(
    "/farms/{slug}/run-sheet/proposals/{sheet_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="discard_run_sheet",
)
def discard(request: HttpRequest, slug: str, sheet_id: int) -> DoneOut:
    """Keep the sheet in use."""
    discard_sheet(enter(person(request), slug), sheet_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/run-sheet/try",
    response={200: TriedOut, **ERRORS},
    operation_id="try_run_sheet_change",
)
def try_change(request: HttpRequest, slug: str, data: SheetChangeIn) -> TriedOut:
    """What a change would break and cost; nothing is saved."""
    access = enter(person(request), slug)
    return tried_out(access, with_changes(access, data.edit, data.blocks))


@router.post(
    "/farms/{slug}/run-sheet/changes",
    response={200: RunSheetOut, **ERRORS},
    operation_id="change_run_sheet",
)
def change(request: HttpRequest, slug: str, data: SheetChangeIn) -> RunSheetOut:
    """Move, stretch, split, pin or remove irrigations of blocks."""
    access = enter(person(request), slug)
    change_sheet(access, data.edit, data.blocks)
    return _run_sheet(access)


@router.post(
    "/farms/{slug}/run-sheet/undo",
    response={200: RunSheetOut, **ERRORS},
    operation_id="undo_run_sheet_change",
)
def undo(request: HttpRequest, slug: str, data: EditIn) -> RunSheetOut:
    """Take the last change back."""
    access = enter(person(request), slug)
    undo_change(access, data.edit)
    return _run_sheet(access)


@router.post(
    "/farms/{slug}/run-sheet/announce",
    response={200: RunSheetOut, **ERRORS},
    operation_id="announce_run_sheet",
)
def tell(request: HttpRequest, slug: str, data: EditIn) -> RunSheetOut:
    """Schedule the sheet's irrigations, and move or cancel those announced before."""
    access = enter(person(request), slug)
    announce(access, data.edit)
    return _run_sheet(access)


@router.get(
    "/farms/{slug}/run-sheet/blocks/{block_id}",
    response={200: WhyOut, **ERRORS},
    operation_id="why_on_run_sheet",
)
def why_here(request: HttpRequest, slug: str, block_id: int) -> WhyOut:
    """Why a block is irrigated when it is, and how its store goes."""
    return why(enter(person(request), slug), block_id)
