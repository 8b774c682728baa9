"""Reports from the field into the log: each once, one by one."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.models import Farm
from server.farms.rules import Action
from server.plan.in_use import sheet_in_use
from server.plan.jobs import is_cut_short
from server.plan.models import FieldReport, ReportKind, RunSheet, SheetStatus
from server.plan.tasks import queue_plan
from server.water.models import Irrigation
from server.water.sets import SetFigures, correct_set, find_set, start_set

OLDEST = timedelta(days=30)
GRACE = timedelta(minutes=10)  # phones' clocks differ
NOTE_LENGTH = 300


@dataclass(frozen=True)
class Reported:
    """A report as the phone wrote it; ``at`` is aware, ``why`` is empty for a start."""

    key: UUID
    irrigation_id: int
    kind: ReportKind
    at: datetime
    meter_m3: float | None = None
    pressure_kpa: float | None = None
    why: str = ""
    note: str = ""


@acting(Action.LOG_WATER)
def take_report(access: Access, sent: Reported) -> bool:
    """Put a report into the log; whether it had come before.

    Raises
    ------
    RequestError
        Where it can't be: nothing of it is kept then.
    """
    if FieldReport.objects.for_farm(access.farm).filter(key=sent.key).exists():
        return True
    _check(access, sent)
    if sent.kind == ReportKind.START:
        row = start_set(access, sent.irrigation_id, sent.at, sent.meter_m3)
    else:
        row = _stop(access, sent)
    FieldReport(
        key=sent.key,
        irrigation=row,
        kind=sent.kind,
        at=sent.at,
        meter_m3=sent.meter_m3,
        pressure_kpa=sent.pressure_kpa,
        why=sent.why,
        note=sent.note,
        received_at=access.now(),
        made_by=access.user,
    ).save()
    if row.status == Irrigation.Status.DONE and is_cut_short(row):
        _plan_the_rest(access.farm, access.now())
    return False


def _check(access: Access, sent: Reported) -> None:
    problems = []
    if sent.at > access.now() + GRACE:
        problems.append(
            Problem(sentence("The report is in the future: check the clock."), field="at")
        )
    if sent.at < access.now() - OLDEST:
        problems.append(Problem(sentence("The report is more than a month old."), field="at"))
    if sent.kind == ReportKind.STOP and not sent.why:
        problems.append(Problem(sentence("Choose why it was stopped."), field="why"))
    if problems:
        raise RequestError(sentence("The report was not taken."), tuple(problems))


def _stop(access: Access, sent: Reported) -> Irrigation:
    row = find_set(access, sent.irrigation_id)
    if row.status != Irrigation.Status.RUNNING:
        raise RequestError(
            sentence(
                "This irrigation is {status}; only a running one can be stopped.",
                status=row.status,
            )
        )
    metered = sent.meter_m3 if row.meter_start_m3 is not None else None
    said = " · ".join(x for x in (row.note, sent.note.strip()) if x)
    figures = SetFigures(
        status=Irrigation.Status.DONE,
        started_at=row.started_at,
        ended_at=min(sent.at, access.now()),
        meter_start_m3=row.meter_start_m3,
        meter_end_m3=metered,
        share=row.share,
        place_from=row.place_from,
        place_to=row.place_to,
        note=said[:NOTE_LENGTH],
    )
    return correct_set(access, row.pk, figures)


def _plan_the_rest(farm: Farm, now: datetime) -> None:
    """Propose another plan where a run sheet is in use: what was cut short is still missing."""
    if sheet_in_use(farm) is None:
        return
    rows = RunSheet.objects.for_farm(farm)
    waiting = rows.filter(status=SheetStatus.WAITING).first()
    if waiting is None:
        waiting = RunSheet(farm=farm, asked_at=now)
        waiting.save()
    queue_plan(waiting)
