"""Readings into the table: COPY to a staging table, then one statement; idempotent."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from django.db import connection, transaction

from server.readings.models import ReadingBatch


@dataclass(frozen=True)
class ReadingRow:
    """A reading on its way in; ``time`` is aware."""

    channel_id: int
    time: datetime
    value: float
    unit: str


@dataclass(frozen=True)
class UpsertCount:
    new: int
    changed: int
    unchanged: int


_STAGE = """
CREATE TEMPORARY TABLE staged_reading (
    channel_id bigint, "time" timestamptz, value double precision, unit varchar(10)
) ON COMMIT DROP
"""
# A reading that says something else than before keeps its old word in the revisions.
_KEEP_OLD = """
INSERT INTO readings_readingrevision
    (channel_id, "time", value, unit, batch_id, replaced_by_id)
SELECT r.channel_id, r."time", r.value, r.unit, r.batch_id, %(batch)s
FROM readings_reading r JOIN staged_reading s USING (channel_id, "time")
WHERE r.value IS DISTINCT FROM s.value OR r.unit <> s.unit
"""
_WRITE = """
WITH written AS (
    INSERT INTO readings_reading AS r (channel_id, "time", value, unit, batch_id)
    SELECT channel_id, "time", value, unit, %(batch)s FROM staged_reading
    ON CONFLICT (channel_id, "time") DO UPDATE
        SET value = EXCLUDED.value, unit = EXCLUDED.unit, batch_id = EXCLUDED.batch_id
        WHERE r.value IS DISTINCT FROM EXCLUDED.value OR r.unit <> EXCLUDED.unit
    RETURNING (xmax = 0) AS inserted
)
SELECT count(*) FILTER (WHERE inserted), count(*) FILTER (WHERE NOT inserted) FROM written
"""


def upsert_readings(batch: ReadingBatch, rows: Iterable[ReadingRow]) -> UpsertCount:
    """Write readings by their natural key and count what they were.

    All or nothing. A reading that is already there with the same value and unit is left
    alone; one that differs is changed and its old value kept as a revision. The counts are
    also stored on the batch.

    Each (channel, time) may appear once in ``rows``.
    """
    total = 0
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(_STAGE)
        with cursor.copy(
            'COPY staged_reading (channel_id, "time", value, unit) FROM STDIN'
        ) as copy:
            for row in rows:
                copy.write_row((row.channel_id, row.time, row.value, row.unit))
                total += 1
        cursor.execute(_KEEP_OLD, {"batch": batch.pk})
        cursor.execute(_WRITE, {"batch": batch.pk})
        new, changed = cursor.fetchone()
        cursor.execute("DROP TABLE staged_reading")
        count = UpsertCount(new=new, changed=changed, unchanged=total - new - changed)
        batch.new, batch.changed, batch.unchanged = count.new, count.changed, count.unchanged
        batch.save(update_fields=["new", "changed", "unchanged"])
    return count
