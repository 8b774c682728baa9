"""What people decide about findings."""

from datetime import date

from core.diagnosis.cause import Cause, cause_words
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.files.confined import read_confined
from server.findings.models import Finding, FindingDecision, FindingStatus
from server.instruments.pictures import small_picture

_DONE: dict[FindingStatus, Done] = {
    FindingStatus.CONFIRMED: Done.FINDING_CONFIRMED,
    FindingStatus.DISMISSED: Done.FINDING_DISMISSED,
    FindingStatus.DONE: Done.FINDING_DONE,
}


def find_finding(access: Access, finding_id: int) -> Finding:
    """A finding of the farm."""
    row: Finding | None = (
        Finding.objects.for_farm(access.farm)
        .filter(pk=finding_id)
        .select_related("block", "instrument")
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such finding on this farm."))
    return row


@acting(Action.RECORD_READINGS, whole=False)
def decide(
    access: Access,
    finding_id: int,
    status: FindingStatus,
    note: str,
    until: date | None = None,
) -> FindingDecision:
    """Say what was found in the field, that it is nothing, or that it was put right.

    Raises
    ------
    RequestError
    """
    row = find_finding(access, finding_id)
    _check(access, status, note, until)
    decision = FindingDecision(
        finding=row,
        status=status,
        note=note.strip(),
        until=until,
        made_at=access.now(),
        made_by=access.user,
    )
    decision.save()
    row.status, row.until = status, until
    row.save(update_fields=["status", "until"])
    record(access, _DONE[status], _about(row), decision.pk, block=row.block_id)
    return decision


def _check(access: Access, status: FindingStatus, note: str, until: date | None) -> None:
    problems = []
    if status not in _DONE:
        problems.append(
            Problem(field="status", message=sentence("Say confirmed, dismissed or done."))
        )
    if status == FindingStatus.DISMISSED and not note.strip():
        problems.append(Problem(field="note", message=sentence("Say why it is nothing.")))
    if until is not None and (status != FindingStatus.DISMISSED or until < access.now().date()):
        problems.append(
            Problem(
                field="until",
                message=sentence("Enter today or a later day, for a dismissed finding alone."),
            )
        )
    if problems:
        raise RequestError(sentence("The decision was not saved."), tuple(problems))


def _about(row: Finding) -> str:
    name = cause_words()[Cause(row.cause)].name
    where = row.instrument.label if row.instrument else row.block.name
    return f"{name}, {where}"


@acting(Action.RECORD_READINGS, whole=False)
def keep_photo(access: Access, decision_id: int, data: bytes) -> None:
    """Keep a picture with a decision; a new one takes the place of the one before.

    Raises
    ------
    NotFound, RequestError
    """
    decision = _decision(access, decision_id)
    decision.image = read_confined(small_picture, data)
    decision.save(update_fields=["image"])
    row = decision.finding
    record(access, Done.PHOTO_ADDED, _about(row), block=row.block_id)


def _decision(access: Access, decision_id: int) -> FindingDecision:
    row: FindingDecision | None = (
        FindingDecision.objects.for_farm(access.farm)
        .filter(pk=decision_id, undone_at=None)
        .select_related("finding__block", "finding__instrument")
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such decision on this farm."))
    return row


@acting(
    Action.RECORD_READINGS,
    undoes=(Done.FINDING_CONFIRMED, Done.FINDING_DISMISSED, Done.FINDING_DONE),
)
def undo_decision(access: Access, decision_id: int) -> None:
    """Take a decision back: the one before it holds again.

    Raises
    ------
    NotFound
    """
    decision = _decision(access, decision_id)
    decision.undone_at = access.now()
    decision.save(update_fields=["undone_at"])
    row = decision.finding
    last = row.decisions.filter(undone_at=None).last()
    row.status = last.status if last else FindingStatus.OPEN
    row.until = last.until if last else None
    row.save(update_fields=["status", "until"])
