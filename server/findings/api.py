"""Findings of a farm's blocks, and what people decide about them."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile

from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.errors import NotFound
from server.base.schema import Body, DoneOut
from server.base.signed_in import person
from server.farms.access import enter
from server.files.confined import content_of
from server.findings.bring_up import bring_up
from server.findings.decisions import decide, find_finding, keep_photo, undo_decision
from server.findings.models import FindingDecision
from server.findings.present import findings_out, marks_of
from server.findings.schemas import FindingDecisionIn, FindingMark, FindingOut
from server.instruments.pictures import picture_answer

router = Router(tags=["findings"])


class OfBlock(Body):
    """Of which block, or of all; with those that were dismissed, done or lapsed, or without."""

    block: int | None = None
    past: bool = False


@router.get(
    "/farms/{slug}/findings", response={200: list[FindingOut], **ERRORS}, operation_id="findings"
)
def findings(request: HttpRequest, slug: str, of: Query[OfBlock]) -> list[FindingOut]:
    """What is wrong now, the costliest first; of one block it is looked at anew if anything of it
    has changed."""
    farm = enter(person(request), slug).farm
    if of.block is not None:
        bring_up(farm, [of.block])
    return findings_out(farm, of.block, of.past)


@router.get(
    "/farms/{slug}/finding-marks",
    response={200: list[FindingMark], **ERRORS},
    operation_id="finding_marks",
)
def finding_marks(request: HttpRequest, slug: str) -> list[FindingMark]:
    """Of each block on which something is wrong now: how many findings, and the costliest."""
    return marks_of(enter(person(request), slug).farm)


@router.post(
    "/farms/{slug}/findings/{finding_id}/decisions",
    response={201: FindingOut, **ERRORS},
    operation_id="decide_finding",
)
def post_decision(
    request: HttpRequest,
    slug: str,
    finding_id: int,
    data: FindingDecisionIn,
) -> Status[FindingOut]:
    """Confirm a finding with what was seen in the field, dismiss it with a reason, or say that it
    was put right."""
    access = enter(person(request), slug)
    decide(access, finding_id, data.status, data.note, data.until)
    row = find_finding(access, finding_id)
    out = findings_out(access.farm, row.block_id, True)
    return Status(201, next(f for f in out if f.id == row.pk))


@router.delete(
    "/farms/{slug}/finding-decisions/{decision_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="undo_finding_decision",
)
def delete_decision(request: HttpRequest, slug: str, decision_id: int) -> DoneOut:
    """Take a decision back."""
    undo_decision(enter(person(request), slug), decision_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/finding-decisions/{decision_id}/photo",
    response={201: DoneOut, **ERRORS},
    operation_id="add_finding_photo",
)
def post_photo(
    request: HttpRequest, slug: str, decision_id: int, file: File[UploadedFile]
) -> Status[DoneOut]:
    """Keep a picture of what was found in the field."""
    keep_photo(enter(person(request), slug), decision_id, content_of(file))
    return Status(201, DoneOut())


@router.get(
    "/farms/{slug}/finding-decisions/{decision_id}/photo",
    response={200: bytes, **ERRORS},
    operation_id="finding_photo",
)
def get_photo(request: HttpRequest, slug: str, decision_id: int) -> HttpResponse:
    """The picture that was taken in the field."""
    farm = enter(person(request), slug).farm
    row = FindingDecision.objects.for_farm(farm).filter(pk=decision_id).first()
    if row is None or row.image is None:
        raise NotFound(sentence("There is no such picture."))
    return picture_answer(row.image)
