"""Readings to look at: charts, the rules they are held against, reviews, arrivals."""

import json
from datetime import datetime
from zoneinfo import ZoneInfo

from django.db.models import F
from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Status

from core.instrument.kinds import Quantity
from core.instrument.reading_units import ReadingUnit, units_of
from core.quality.flags import rule_book, rule_versions
from core.sentence import sentence
from server.base.error_schema import ERRORS
from server.base.errors import Problem, RequestError
from server.base.language import Translated
from server.base.moment import Moment
from server.base.schema import Body, Keys, Schema
from server.base.signed_in import person
from server.farms.access import enter
from server.instruments.services import find_instrument
from server.readings.chart import chart_lines
from server.readings.export import CONTENT_TYPES, ExportFormat, readings_table, written
from server.readings.models import ReadingBatch, ReadingReview, Review
from server.readings.reviews import review_readings, undo_review
from server.readings.undo import undo_batch

router = Router(tags=["readings"])
MAX_YEARS = 20


class ChartStretch(Body):
    """Instants; without an offset farm-local."""

    first: Moment
    last: Moment
    calibrated: bool = True


class ExportWanted(Body):
    """Instants; without an offset farm-local."""

    first: Moment
    last: Moment
    format: ExportFormat = ExportFormat.CSV


class LineOut(Schema):
    """``times`` in seconds since 1970; ``doubts`` as [time, value, flags]."""

    channel_id: int
    depth_mm: float | None
    quantity: Quantity
    unit: ReadingUnit
    times: list[int]
    values: list[float | None]
    doubts: list[list[float]]
    noted: int


class ChartOut(Schema):
    """``step_s`` is the time one point stands for; 0: every reading is there."""

    lines: list[LineOut]
    step_s: int


class RuleOut(Schema):
    flag: int
    name: Translated
    meaning: Translated
    likely: Translated
    doubted: bool
    source: Translated


class RulesOut(Schema):
    version: int
    since: str
    versions: dict[int, str]
    rules: list[RuleOut]


class ReviewIn(Body):
    """``trusted`` reinstates readings, otherwise they are doubted."""

    channels: Keys
    first: Moment
    last: Moment
    trusted: bool
    reason: str = Field(max_length=300)


class ReviewOut(Schema):
    id: int
    channels: list[int]
    first: datetime
    last: datetime
    trusted: bool
    reason: str
    readings: int
    made_at: datetime
    made_by: str
    undone_at: datetime | None
    undone_by: str


class BatchOut(Schema):
    id: int
    origin: ReadingBatch.Origin
    file_import: int | None
    file_name: str
    sender: str
    made_at: datetime
    first: datetime | None
    last: datetime | None
    new: int
    changed: int
    unchanged: int
    refused: int
    undone_at: datetime | None
    undone_by: str


class UndoneOut(Schema):
    removed: int
    restored: int


def _instants(first: datetime, last: datetime, zone: str) -> tuple[datetime, datetime]:
    local = ZoneInfo(zone)
    a, b = (x if x.tzinfo else x.replace(tzinfo=local) for x in (first, last))
    if b < a or (b - a).days > MAX_YEARS * 366:
        raise RequestError(
            sentence("That period can't be shown."),
            (
                Problem(
                    field="last",
                    message=sentence("It must end after it begins, and within twenty years."),
                ),
            ),
        )
    return a, b


@router.get(
    "/farms/{slug}/instruments/{instrument_id}/chart",
    response={200: ChartOut, **ERRORS},
    operation_id="chart",
)
def get_chart(
    request: HttpRequest, slug: str, instrument_id: int, stretch: Query[ChartStretch]
) -> HttpResponse:
    """An instrument's readings over a stretch; peaks survive however long it is."""
    access = enter(person(request), slug)
    instrument = find_instrument(access, instrument_id)
    first, last = _instants(stretch.first, stretch.last, access.farm.time_zone)
    channels = list(instrument.channels.all())
    lines, step = chart_lines(channels, first, last, calibrated=stretch.calibrated)
    body = {
        "lines": [
            {
                "channel_id": x.channel_id,
                "depth_mm": x.depth_mm,
                "quantity": x.quantity,
                "unit": units_of(x.quantity)[0],
                "times": x.times,
                "values": x.values,
                "doubts": x.doubts,
                "noted": x.noted,
            }
            for x in sorted(lines, key=lambda x: (x.quantity, x.depth_mm or 0.0))
        ],
        "step_s": step,
    }
    # Tens of thousands of figures that the core has made: checking each again would take
    # longer than finding them.
    return HttpResponse(json.dumps(body, separators=(",", ":")), content_type="application/json")


@router.get(
    "/farms/{slug}/instruments/{instrument_id}/export",
    response={200: bytes, **ERRORS},
    operation_id="export_readings",
)
def get_export(
    request: HttpRequest, slug: str, instrument_id: int, wanted: Query[ExportWanted]
) -> HttpResponse:
    """Readings read out: raw, what they mean, and what speaks against them."""
    access = enter(person(request), slug)
    instrument = find_instrument(access, instrument_id)
    first, last = _instants(wanted.first, wanted.last, access.farm.time_zone)
    body = written(readings_table(instrument, first, last), wanted.format)
    answer = HttpResponse(body, content_type=CONTENT_TYPES[wanted.format])
    name = f"readings-{instrument_id}-{first:%Y%m%d}-{last:%Y%m%d}.{wanted.format}"
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@router.get("/quality-rules", response={200: RulesOut, **ERRORS}, operation_id="quality_rules")
def get_rules(request: HttpRequest) -> RulesOut:
    """The rules that readings are held against."""
    book = rule_book()
    return RulesOut(
        version=book.version,
        since=book.since,
        versions=rule_versions(),
        rules=[
            RuleOut(
                flag=int(r.flag),
                name=r.name,
                meaning=r.meaning,
                likely=r.likely,
                doubted=r.doubted,
                source=r.source,
            )
            for r in book.rules
        ],
    )


def _review_out(row: ReadingReview) -> ReviewOut:
    return ReviewOut(
        id=row.pk,
        channels=row.channels,
        first=row.first,
        last=row.last,
        trusted=row.review == Review.TRUSTED,
        reason=row.reason,
        readings=row.readings,
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else "",
        undone_at=row.undone_at,
        undone_by=row.undone_by.name if row.undone_by else "",
    )


@router.get(
    "/farms/{slug}/instruments/{instrument_id}/reviews",
    response={200: list[ReviewOut], **ERRORS},
    operation_id="reviews",
)
def get_reviews(request: HttpRequest, slug: str, instrument_id: int) -> list[ReviewOut]:
    instrument = find_instrument(enter(person(request), slug), instrument_id)
    rows = instrument.reviews.select_related("made_by", "undone_by").order_by("-made_at", "-pk")
    return [_review_out(v) for v in rows[:200]]


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/reviews",
    response={201: ReviewOut, **ERRORS},
    operation_id="review_readings",
)
def post_review(
    request: HttpRequest, slug: str, instrument_id: int, data: ReviewIn
) -> Status[ReviewOut]:
    access = enter(person(request), slug)
    instrument = find_instrument(access, instrument_id)
    zone = ZoneInfo(access.farm.time_zone)
    first, last = (x if x.tzinfo else x.replace(tzinfo=zone) for x in (data.first, data.last))
    review = Review.TRUSTED if data.trusted else Review.DOUBTED
    row = review_readings(access, instrument, data.channels, first, last, review, data.reason)
    return Status(201, _review_out(row))


@router.delete(
    "/farms/{slug}/reviews/{review_id}",
    response={200: ReviewOut, **ERRORS},
    operation_id="undo_review",
)
def delete_review(request: HttpRequest, slug: str, review_id: int) -> ReviewOut:
    access = enter(person(request), slug)
    return _review_out(undo_review(access, review_id))


@router.get(
    "/farms/{slug}/batches",
    response={200: list[BatchOut], **ERRORS},
    operation_id="batches",
)
def get_batches(request: HttpRequest, slug: str) -> list[BatchOut]:
    """The last hundred arrivals that people brought; loggers' own are too many to list."""
    farm = enter(person(request), slug).farm
    rows = (
        ReadingBatch.objects.for_farm(farm)
        .exclude(origin__in=[ReadingBatch.Origin.DEVICE, ReadingBatch.Origin.SIMULATED])
        .select_related("made_by", "undone_by", "device")
        .annotate(import_id=F("file_import__id"))
        .order_by("-made_at")[:100]
    )
    return [
        BatchOut(
            id=b.pk,
            origin=ReadingBatch.Origin(b.origin),
            file_import=b.import_id,
            file_name=b.file_name,
            sender=b.device.name if b.device else (b.made_by.name if b.made_by else ""),
            made_at=b.made_at,
            first=b.first,
            last=b.last,
            new=b.new,
            changed=b.changed,
            unchanged=b.unchanged,
            refused=b.refused_count,
            undone_at=b.undone_at,
            undone_by=b.undone_by.name if b.undone_by else "",
        )
        for b in rows
    ]


@router.delete(
    "/farms/{slug}/batches/{batch_id}",
    response={200: UndoneOut, **ERRORS},
    operation_id="undo_batch",
)
def delete_batch(request: HttpRequest, slug: str, batch_id: int) -> UndoneOut:
    """Take an arrival back whole; a file is taken back where it was brought in."""
    access = enter(person(request), slug)
    of_file = ReadingBatch.objects.for_farm(access.farm).filter(
        pk=batch_id, file_import__isnull=False
    )
    if of_file.exists():
        raise RequestError(sentence("A file may be long: undo it on its own page."))
    done = undo_batch(access, batch_id)
    return UndoneOut(removed=done.removed, restored=done.restored)
