"""A person's word on readings, over what the rules say: in bulk, with a reason, undone at will."""

from datetime import datetime

from django.db import connection

from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Instrument
from server.readings.models import Reading, ReadingReview, Review
from server.readings.store import lock_instruments, rejudge


@acting(Action.RECORD_READINGS)
def review_readings(
    access: Access,
    instrument: Instrument,
    channel_ids: list[int],
    first: datetime,
    last: datetime,
    review: Review,
    reason: str,
) -> ReadingReview:
    """Trust or doubt every reading of some channels between two instants.

    Raises
    ------
    RequestError
        Without a reason, or when there is no reading in the stretch.
    """
    problems = []
    if not reason.strip():
        problems.append(Problem(field="reason", message=sentence("Enter a reason.")))
    if last < first:
        problems.append(Problem(field="last", message=sentence("The end is before the beginning.")))
    own_channels = {c.pk for c in instrument.channels.all()}
    if not channel_ids or not set(channel_ids) <= own_channels:
        problems.append(
            Problem(field="channels", message=sentence("Choose depths of this instrument."))
        )
    if problems:
        raise RequestError(sentence("Nothing was changed."), tuple(problems))
    with connection.cursor() as cursor:
        lock_instruments(cursor, channel_ids)
    count = (
        Reading.objects.for_farm(access.farm)
        .filter(channel__in=channel_ids, time__gte=first, time__lte=last)
        .count()
    )
    if not count:
        raise RequestError(sentence("There is no reading in that period; nothing was changed."))
    row = ReadingReview(
        instrument=instrument,
        channels=sorted(channel_ids),
        first=first,
        last=last,
        review=review,
        reason=reason.strip()[:300],
        readings=count,
        made_at=access.now(),
        made_by=access.user,
    )
    row.save()
    _apply(row)
    rejudge(channel_ids, first, last)
    record(
        access,
        Done.READINGS_REVIEWED,
        instrument.label,
        thing=row.pk,
        block=instrument.block_id,
    )
    return row


def _apply(row: ReadingReview) -> None:
    Reading.unscoped.filter(
        channel__in=row.channels, time__gte=row.first, time__lte=row.last
    ).update(review=row.review)


@acting(Action.RECORD_READINGS, undoes=(Done.READINGS_REVIEWED,))
def undo_review(access: Access, review_id: int) -> ReadingReview:
    """Take a review back; earlier ones that it covered hold again. It stays on record."""
    row: ReadingReview | None = (
        ReadingReview.objects.for_farm(access.farm)
        .select_related("instrument")
        .filter(pk=review_id)
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such review on this farm."))
    if row.undone_at is not None:
        return row
    with connection.cursor() as cursor:
        lock_instruments(cursor, row.channels)
    row.undone_at, row.undone_by = access.now(), access.user
    row.save(update_fields=["undone_at", "undone_by"])
    Reading.unscoped.filter(
        channel__in=row.channels, time__gte=row.first, time__lte=row.last
    ).update(review=Review.NONE)
    earlier = ReadingReview.objects.for_farm(access.farm).filter(
        instrument=row.instrument, undone_at=None, first__lte=row.last, last__gte=row.first
    )
    for other in earlier.order_by("made_at", "pk"):
        _apply(other)
    rejudge(row.channels, row.first, row.last)
    return row
