"""The phone of whoever runs the water: jobs out, reports in."""

from collections.abc import Sequence
from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Query, Router, Status, UploadedFile
from pydantic import Field

from server.base.error_schema import ERRORS, ProblemOut
from server.base.errors import RequestError
from server.base.moment import Moment, by_the_phone
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.farms.access import Access, enter
from server.farms.acting import acting
from server.farms.rules import Action
from server.files.confined import content_of
from server.instruments.pictures import picture_answer
from server.plan.field_photos import find_field_photo, keep_field_photo
from server.plan.field_reports import Reported, take_report
from server.plan.jobs import JobOut, jobs, told_lately
from server.plan.models import ReportKind, StopReason
from server.plan.reported import FieldReportOut, field_reports
from server.plan.schemas import SetChangeOut

router = Router(tags=["jobs"])


class ToldOut(Schema):
    """The newest announcement, and what it changed of the person's jobs."""

    number: int
    made_at: datetime
    changes: list[SetChangeOut]


class JobsOut(Schema):
    """``told`` is null where nothing was announced lately."""

    now: datetime
    time_zone: str
    told: ToldOut | None
    jobs: list[JobOut]


class ReportIn(Body):
    """A start or a stop; ``key`` is made on the phone and stays the same when sent again.

    ``age_seconds``: how long before sending it was made; where it is given it goes before ``at``,
    so that a phone's wrong clock does no harm.
    """

    key: UUID
    irrigation_id: int
    kind: ReportKind
    at: Moment
    age_seconds: float | None = Field(default=None, ge=0, le=40 * 86400)
    meter_m3: float | None = Field(default=None, ge=0, le=1e12)
    pressure_kpa: float | None = Field(default=None, ge=0, le=5000)
    why: StopReason | None = None
    note: str = Field(default="", max_length=200)


class ReportsIn(Body):
    reports: list[ReportIn] = Field(max_length=200)


class ReportOut(Schema):
    """What became of a report: taken (``repeated``: before), or refused with its problems."""

    key: UUID
    taken: bool
    repeated: bool
    message: str
    problems: list[ProblemOut]


@router.get("/farms/{slug}/jobs", response={200: JobsOut, **ERRORS}, operation_id="jobs")
def list_jobs(request: HttpRequest, slug: str) -> JobsOut:
    """What runs, and what is to begin today and tomorrow; an irrigator's own."""
    access = enter(person(request), slug)
    newest, changes = told_lately(access)
    told = None
    if newest is not None:
        told = ToldOut(
            number=newest.number,
            made_at=newest.made_at,
            changes=[SetChangeOut.model_validate(c) for c in changes],
        )
    return JobsOut(now=access.now(), time_zone=access.farm.time_zone, told=told, jobs=jobs(access))


@router.post(
    "/farms/{slug}/jobs/reports",
    response={200: list[ReportOut], **ERRORS},
    operation_id="send_field_reports",
)
def send_reports(request: HttpRequest, slug: str, data: ReportsIn) -> list[ReportOut]:
    """Reports from a phone, each taken or refused by itself; sent again, each is taken once."""
    return _take_each(enter(person(request), slug), data.reports)


@router.get(
    "/farms/{slug}/jobs/reports",
    response={200: list[FieldReportOut], **ERRORS},
    operation_id="field_reports",
)
def list_reports(
    request: HttpRequest, slug: str, days: Annotated[int, Query(ge=1, le=400)] = 14
) -> list[FieldReportOut]:
    """What was reported from the field in so many days, in the order in which it happened."""
    return field_reports(enter(person(request), slug), days)


@router.post(
    "/farms/{slug}/jobs/photos", response={201: DoneOut, **ERRORS}, operation_id="add_field_photo"
)
def post_photo(
    request: HttpRequest, slug: str, file: File[UploadedFile], key: Form[UUID]
) -> Status[DoneOut]:
    """The picture of a report, before or after it; under the same key it is kept once."""
    keep_field_photo(enter(person(request), slug), key, content_of(file))
    return Status(201, DoneOut())


@router.get(
    "/farms/{slug}/jobs/photos/{photo_id}",
    response={200: bytes, **ERRORS},
    operation_id="field_photo",
)
def get_photo(request: HttpRequest, slug: str, photo_id: int) -> HttpResponse:
    """The picture itself, JPEG."""
    row = find_field_photo(enter(person(request), slug), photo_id)
    return picture_answer(row.image)


# Each is whole by itself: one that can't be taken keeps no other out.
@acting(Action.LOG_WATER, whole=False)
def _take_each(access: Access, reports: Sequence[ReportIn]) -> list[ReportOut]:
    return [_taken(access, report) for report in reports]


def _taken(access: Access, report: ReportIn) -> ReportOut:
    try:
        repeated = take_report(access, _reported(access, report))
    except RequestError as refused:
        return ReportOut(
            key=report.key,
            taken=False,
            repeated=False,
            message=refused.message,
            problems=[ProblemOut.model_validate(p, from_attributes=True) for p in refused.problems],
        )
    return ReportOut(key=report.key, taken=True, repeated=repeated, message="", problems=[])


def _reported(access: Access, report: ReportIn) -> Reported:
    stopped = report.kind == ReportKind.STOP
    return Reported(
        key=report.key,
        irrigation_id=report.irrigation_id,
        kind=report.kind,
        at=by_the_phone(access.now(), report.at, report.age_seconds),
        meter_m3=report.meter_m3,
        pressure_kpa=report.pressure_kpa,
        why=str(report.why) if stopped and report.why else "",
        note=report.note,
    )
