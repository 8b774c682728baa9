"""What the morning is told: table, page, calendar, mail."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from server.base.error_schema import ERRORS
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.farms.access import enter
from server.farms.models import Membership
from server.today.calendar import feed_of, has_token, new_token, revoke_token
from server.today.rows import board_rows
from server.today.run_sheet_file import run_sheet_csv, run_sheet_pdf
from server.today.sheets import as_csv, as_pdf
from server.today.summary import SummaryOut, summary_of
from server.today.tube_sheet import tube_sheet_pdf

router = Router(tags=["today"])


class TellingOut(Schema):
    """The daily summary as it would be sent now, and what a person has asked for."""

    summary: SummaryOut
    morning_mail: bool
    has_calendar: bool


class MailIn(Body):
    morning_mail: bool


class CalendarOut(Schema):
    """The private path of the calendar; told once."""

    path: str


@router.get("/farms/{slug}/today", response={200: TellingOut, **ERRORS}, operation_id="today")
def today(request: HttpRequest, slug: str) -> TellingOut:
    access = enter(person(request), slug)
    member = Membership.objects.get(farm=access.farm, user=access.user)
    return TellingOut(
        summary=summary_of(access.farm, board_rows(access.farm)),
        morning_mail=member.morning_mail,
        has_calendar=has_token(access),
    )


@router.put(
    "/farms/{slug}/today/mail", response={200: MailIn, **ERRORS}, operation_id="set_morning_mail"
)
def mail(request: HttpRequest, slug: str, data: MailIn) -> MailIn:
    """Whether the daily summary comes by e-mail."""
    access = enter(person(request), slug)
    member = Membership.objects.get(farm=access.farm, user=access.user)
    member.morning_mail = data.morning_mail
    member.save(update_fields=["morning_mail"])
    return data


@router.get("/farms/{slug}/today.csv", operation_id="today_csv", response={200: str, **ERRORS})
def table(request: HttpRequest, slug: str) -> HttpResponse:
    farm = enter(person(request), slug).farm
    answer = HttpResponse(as_csv(farm), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{farm.slug}-{farm.now():%Y-%m-%d}.csv"'
    return answer


@router.get("/farms/{slug}/today.pdf", operation_id="today_pdf", response={200: str, **ERRORS})
def page(request: HttpRequest, slug: str) -> HttpResponse:
    access = enter(person(request), slug)
    farm = access.farm
    answer = HttpResponse(as_pdf(farm, access.user), content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{farm.slug}-{farm.now():%Y-%m-%d}.pdf"'
    return answer


@router.get(
    "/farms/{slug}/run-sheet.csv", operation_id="run_sheet_csv", response={200: str, **ERRORS}
)
def run_sheet_table(request: HttpRequest, slug: str) -> HttpResponse:
    """The run sheet in use, a row for each irrigation."""
    access = enter(person(request), slug)
    answer = HttpResponse(run_sheet_csv(access), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{access.farm.slug}-run-sheet.csv"'
    return answer


@router.get(
    "/farms/{slug}/run-sheet.pdf", operation_id="run_sheet_pdf", response={200: str, **ERRORS}
)
def run_sheet_page(request: HttpRequest, slug: str) -> HttpResponse:
    """The run sheet in use, to print."""
    access = enter(person(request), slug)
    answer = HttpResponse(run_sheet_pdf(access), content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{access.farm.slug}-run-sheet.pdf"'
    return answer


@router.post(
    "/farms/{slug}/calendar", response={200: CalendarOut, **ERRORS}, operation_id="new_calendar"
)
def make_calendar(request: HttpRequest, slug: str) -> CalendarOut:
    """A new private address of the planned sets; the one before it stops working."""
    return CalendarOut(path=f"/api/calendar/{new_token(enter(person(request), slug))}.ics")


@router.delete(
    "/farms/{slug}/calendar", response={200: DoneOut, **ERRORS}, operation_id="revoke_calendar"
)
def end_calendar(request: HttpRequest, slug: str) -> DoneOut:
    revoke_token(enter(person(request), slug))
    return DoneOut()


@router.get(
    "/calendar/{token}.ics",
    auth=None,
    operation_id="calendar_feed",
    response={200: str, **ERRORS},
)
def calendar(request: HttpRequest, token: str) -> HttpResponse:
    """The feed behind a private address; whoever has the address may read it."""
    return HttpResponse(feed_of(token), content_type="text/calendar; charset=utf-8")


@router.get(
    "/farms/{slug}/blocks/{block_id}/tube-sheet.pdf",
    operation_id="tube_sheet_pdf",
    response={200: str, **ERRORS},
)
def tube_sheet_page(request: HttpRequest, slug: str, block_id: int) -> HttpResponse:
    """How to make, place and read the water tubes of a rice field, to print."""
    access = enter(person(request), slug)
    answer = HttpResponse(tube_sheet_pdf(access, block_id), content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{access.farm.slug}-tube-sheet.pdf"'
    return answer
