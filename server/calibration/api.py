"""The calibration worksheet: work out, put in force, take back; worksheets as CSV."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Status, UploadedFile

from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.errors import NotFound
from server.base.signed_in import person
from server.calibration.schemas import (
    AppliedOut,
    ApplyIn,
    SamplesOut,
    WorksheetIn,
    WorksheetOut,
)
from server.calibration.sheet_file import read_sheet, write_sheet
from server.calibration.worksheet import apply, undo_applied, work_out
from server.farms.access import enter
from server.files.confined import content_of, read_confined
from server.instruments.models import ChannelCalibration
from server.instruments.services import find_instrument

router = Router(tags=["calibration"])


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/worksheet",
    response={200: WorksheetOut, **ERRORS},
    operation_id="calculate_worksheet",
)
def post_worksheet(
    request: HttpRequest, slug: str, instrument_id: int, data: WorksheetIn
) -> WorksheetOut:
    """What the masses say, and every curve that they can fix; nothing is stored."""
    access = enter(person(request), slug)
    return work_out(access, find_instrument(access, instrument_id), data)


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/worksheet/file",
    response={200: SamplesOut, **ERRORS},
    operation_id="read_worksheet",
)
def post_file(
    request: HttpRequest, slug: str, instrument_id: int, file: File[UploadedFile]
) -> SamplesOut:
    access = enter(person(request), slug)
    find_instrument(access, instrument_id)
    return SamplesOut(samples=read_confined(read_sheet, content_of(file)))


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/curves",
    response={201: AppliedOut, **ERRORS},
    operation_id="apply_curve",
)
def post_curve(
    request: HttpRequest, slug: str, instrument_id: int, data: ApplyIn
) -> Status[AppliedOut]:
    access = enter(person(request), slug)
    return Status(201, apply(access, find_instrument(access, instrument_id), data))


@router.delete(
    "/farms/{slug}/curves/{curve_id}",
    response={200: AppliedOut, **ERRORS},
    operation_id="undo_curve",
)
def delete_curve(request: HttpRequest, slug: str, curve_id: int) -> AppliedOut:
    return undo_applied(enter(person(request), slug), curve_id)


@router.get(
    "/farms/{slug}/curves/{curve_id}/samples.csv",
    response={200: str, **ERRORS},
    operation_id="curve_samples",
)
def get_samples(request: HttpRequest, slug: str, curve_id: int) -> HttpResponse:
    """The worksheet behind a curve, as CSV."""
    access = enter(person(request), slug)
    row = ChannelCalibration.objects.for_farm(access.farm).filter(pk=curve_id).first()
    if row is None:
        raise NotFound(sentence("There is no such curve on this farm."))
    answer = HttpResponse(write_sheet(row.samples), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="worksheet-{curve_id}.csv"'
    return answer
