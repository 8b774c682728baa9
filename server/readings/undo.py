"""Taking a whole arrival of readings back."""

from dataclasses import dataclass
from datetime import datetime

from django.db import connection

from core.sentence import sentence
from server.base.errors import NotFound, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done
from server.farms.rules import Action
from server.readings.models import Reading, ReadingBatch, ReadingRevision, ReadingSpan
from server.readings.store import lock_instruments, rejudge

# What the batch changed says again what it said before. Its own new readings go.
_RESTORE = """
UPDATE readings_reading r
SET value = v.value, unit = v.unit, batch_id = v.batch_id, review = 0
FROM readings_readingrevision v
WHERE v.replaced_by_id = %(batch)s AND r.channel_id = v.channel_id AND r."time" = v."time"
    AND r.batch_id = %(batch)s AND r."time" BETWEEN %(first)s AND %(last)s
"""
# A later arrival keeps its word; what it replaced is no longer the batch's, but the one before.
_HAND_DOWN = """
UPDATE readings_readingrevision later
SET value = v.value, unit = v.unit, batch_id = v.batch_id
FROM readings_readingrevision v
WHERE v.replaced_by_id = %(batch)s AND later.batch_id = %(batch)s
    AND later.channel_id = v.channel_id AND later."time" = v."time"
"""


@dataclass(frozen=True)
class Undone:
    """Readings removed, and readings that say again what they said before."""

    removed: int
    restored: int


def require_own(access: Access, batch: ReadingBatch) -> None:
    """Whoever records readings takes back his own; what others brought in, or a logger sent, is
    for those who set up the ground.

    Raises
    ------
    RequestError
    """
    if batch.made_by_id != access.user.pk:
        access.require(Action.SET_UP_GROUND)


@acting(Action.RECORD_READINGS, undoes=(Done.READINGS_ENTERED,))
def undo_batch(access: Access, batch_id: int) -> Undone:
    """Take back all that a batch brought: new readings go, changed ones say their old word.

    A reading that a later batch changed keeps the later word.

    Raises
    ------
    RequestError
        When it was undone before.
    """
    batch: ReadingBatch | None = (
        ReadingBatch.objects.for_farm(access.farm).select_for_update().filter(pk=batch_id).first()
    )
    if batch is None:
        raise NotFound(sentence("There is no such import on this farm."))
    require_own(access, batch)
    if batch.undone_at is not None:
        raise RequestError(sentence("That import was undone before."))
    batch.undone_at, batch.undone_by = access.now(), access.user
    # Sent again, the same batch must come in again.
    batch.key = None
    batch.save(update_fields=["undone_at", "undone_by", "key"])
    if batch.first is None or batch.last is None:
        return Undone(0, 0)
    brought = Reading.unscoped.filter(batch=batch, time__gte=batch.first, time__lte=batch.last)
    channels = sorted(
        set(brought.values_list("channel_id", flat=True))
        | set(
            ReadingRevision.unscoped.filter(replaced_by=batch).values_list("channel_id", flat=True)
        )
    )
    where: dict[str, int | datetime] = {"batch": batch.pk, "first": batch.first, "last": batch.last}
    with connection.cursor() as cursor:
        lock_instruments(cursor, channels)
        cursor.execute(_RESTORE, where)
        restored = cursor.rowcount
        cursor.execute(_HAND_DOWN, where)
    ReadingRevision.unscoped.filter(replaced_by=batch).delete()
    # A revision that still names the batch is a word it brought new: nothing was before it.
    ReadingRevision.unscoped.filter(batch=batch).delete()
    removed, _ = brought.delete()
    ReadingSpan.unscoped.filter(
        channel__in=channels,
        start__gte=batch.first.replace(hour=0, minute=0, second=0, microsecond=0),
        start__lte=batch.last,
    ).delete()
    if channels:
        rejudge(channels, batch.first, batch.last)
    return Undone(removed, restored)
