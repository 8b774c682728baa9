"""Readings into their table: COPY to a staging table, then one statement; idempotent.

Judged on the way in: the readings around the new ones are read back, all are flagged together,
and what the new ones change about their neighbours is written as well.
"""

from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from django.db import connection, transaction
from django.db.backends.utils import CursorWrapper

from core.quality.flags import rule_book
from core.quality.judge import LOOK_AHEAD_HOURS, LOOK_BACK_HOURS
from server.readings.binary_copy import EPOCH_US, Records, copy_in, copy_out
from server.readings.channels import ChannelFacts, channel_facts
from server.readings.judging import SPAN_US, STORED, flags_of, spans_of
from server.readings.models import ReadingBatch
from server.readings.partitions import ensure_months
from server.readings.surroundings import HOUR_US

# A reading on its way in; time in epoch microseconds, unit by its code.
ROW = np.dtype([("channel_id", "i8"), ("time", "i8"), ("value", "f8"), ("unit", "i2")])
_STAGED = np.dtype([*ROW.descr, ("flags", "i2")])
_REFLAGGED = np.dtype([("channel_id", "i8"), ("time", "i8"), ("flags", "i2")])
# A column of water that broke stays broken for weeks; rounds are a week apart.
TENSIOMETER_LOOKS_BACK_HOURS = 45 * 24.0
STRETCH_US = 120 * 24 * HOUR_US


@dataclass(frozen=True)
class UpsertCount:
    new: int
    changed: int
    unchanged: int

    def __add__(self, other: "UpsertCount") -> "UpsertCount":
        return UpsertCount(
            self.new + other.new,
            self.changed + other.changed,
            self.unchanged + other.unchanged,
        )


_AROUND = """
SELECT channel_id, "time", value, unit, flags, review, rules
FROM readings_reading
WHERE channel_id = ANY(%(channels)s) AND "time" >= %(first)s AND "time" <= %(last)s
ORDER BY channel_id, "time"
"""
_STAGE = """
CREATE TEMPORARY TABLE IF NOT EXISTS staged_reading (
    channel_id bigint, "time" timestamptz, value double precision, unit smallint, flags smallint
) ON COMMIT DELETE ROWS;
CREATE TEMPORARY TABLE IF NOT EXISTS staged_flag (
    channel_id bigint, "time" timestamptz, flags smallint
) ON COMMIT DELETE ROWS;
CREATE TEMPORARY TABLE IF NOT EXISTS staged_span (
    channel_id bigint, start timestamptz, count integer, doubted integer,
    low double precision, high double precision,
    doubt_low double precision, doubt_high double precision,
    last double precision, last_at timestamptz, last_flags smallint, flags smallint
) ON COMMIT DELETE ROWS;
TRUNCATE staged_reading, staged_flag, staged_span
"""
# A reading that says something else than before keeps its old word in the revisions.
_KEEP_OLD = """
INSERT INTO readings_readingrevision
    (channel_id, "time", value, unit, batch_id, replaced_by_id)
SELECT r.channel_id, r."time", r.value, r.unit, r.batch_id, %(batch)s
FROM readings_reading r JOIN staged_reading s USING (channel_id, "time")
WHERE r."time" BETWEEN %(first)s AND %(last)s
    AND (r.value IS DISTINCT FROM s.value OR r.unit <> s.unit)
"""
_WRITE = """
INSERT INTO readings_reading AS r (channel_id, "time", value, unit, flags, rules, batch_id)
SELECT channel_id, "time", value, unit, flags, %(rules)s, %(batch)s FROM staged_reading
ON CONFLICT (channel_id, "time") DO UPDATE
    SET value = EXCLUDED.value, unit = EXCLUDED.unit, flags = EXCLUDED.flags,
        rules = EXCLUDED.rules, review = 0, batch_id = EXCLUDED.batch_id
    WHERE r.value IS DISTINCT FROM EXCLUDED.value OR r.unit <> EXCLUDED.unit
"""
_REFLAG = """
UPDATE readings_reading r SET flags = s.flags, rules = %(rules)s
FROM staged_flag s
WHERE r.channel_id = s.channel_id AND r."time" = s."time"
    AND r."time" BETWEEN %(first)s AND %(last)s
"""
_SPANS = """
INSERT INTO readings_readingspan
SELECT channel_id, start, count, doubted, nullif(low, 'NaN'), nullif(high, 'NaN'),
    nullif(doubt_low, 'NaN'), nullif(doubt_high, 'NaN'), last, last_at, last_flags, flags
FROM staged_span
ON CONFLICT (channel_id, start) DO UPDATE
    SET count = EXCLUDED.count, doubted = EXCLUDED.doubted, low = EXCLUDED.low,
        high = EXCLUDED.high, doubt_low = EXCLUDED.doubt_low, doubt_high = EXCLUDED.doubt_high,
        last = EXCLUDED.last, last_at = EXCLUDED.last_at, last_flags = EXCLUDED.last_flags,
        flags = EXCLUDED.flags
"""


def instant(time_us: int) -> datetime:
    """An epoch time in microseconds as an instant."""
    return datetime.fromtimestamp(time_us / 1e6, UTC)


def row_of(channel_id: int, time: datetime, value: float, unit: int) -> tuple[object, ...]:
    """One reading for an array of `ROW`."""
    return (channel_id, round(time.timestamp() * 1e6), value, unit)


def lock_instruments(cursor: CursorWrapper, channel_ids: list[int]) -> None:
    """Keep others from writing to the same instruments until the transaction ends.

    Flags look at neighbours: two batches of one instrument must come one after the other.
    """
    cursor.execute(
        "SELECT i.id FROM instruments_instrument i WHERE i.id IN "
        "(SELECT instrument_id FROM instruments_channel WHERE id = ANY(%s)) "
        "ORDER BY i.id FOR NO KEY UPDATE",
        [channel_ids],
    )


def stored_around(
    cursor: CursorWrapper, channel_ids: list[int], first_us: int, last_us: int
) -> Records:
    """Stored readings of channels between two instants, by channel and time."""
    return copy_out(
        cursor,
        _AROUND,
        {"channels": channel_ids, "first": instant(first_us), "last": instant(last_us)},
        STORED,
    )


def _look_back_us(facts: ChannelFacts) -> int:
    hours = LOOK_BACK_HOURS
    if facts.sensors.is_tensiometer.any():
        hours = TENSIOMETER_LOOKS_BACK_HOURS
    return int(hours * HOUR_US)


def _merged(stored: Records, rows: Records) -> tuple[Records, np.ndarray]:
    """Stored and new readings together, sorted; a new one stands in place of a stored one.

    Returns
    -------
    merged : array of `STORED`
    origin : array of int, index into ``rows``, -1 for a stored reading
    """
    incoming = np.zeros(rows.shape, STORED)
    for name in ROW.names or ():
        incoming[name] = rows[name]
    incoming["rules"] = -1
    both = np.concatenate([stored, incoming])
    origin = np.concatenate([np.full(stored.shape, -1), np.arange(rows.size)])
    # Within one key the stored reading comes first and the new one stays.
    order = np.lexsort((origin, both["time"], both["channel_id"]))
    both, origin = both[order], origin[order]
    same = (both["channel_id"][1:] == both["channel_id"][:-1]) & (
        both["time"][1:] == both["time"][:-1]
    )
    # The same value again keeps what a person said of it.
    again = np.flatnonzero(same)
    kept = (both["value"][again] == both["value"][again + 1]) & (
        both["unit"][again] == both["unit"][again + 1]
    )
    both["review"][again[kept] + 1] = both["review"][again[kept]]
    both["flags"][again[kept] + 1] = both["flags"][again[kept]]
    both["rules"][again[kept] + 1] = both["rules"][again[kept]]
    stays = np.concatenate([~same, [True]]) if both.size else np.zeros(0, bool)
    return both[stays], origin[stays]


def _as_pg(time_us: np.ndarray) -> np.ndarray:
    return time_us - EPOCH_US


def _touched_spans(rows: Records, touched: np.ndarray) -> Records:
    """Spans of the readings that hold a touched one; ``rows`` must hold those spans whole."""
    spans = spans_of(rows)
    wanted = np.unique(
        np.stack([rows["channel_id"][touched], rows["time"][touched] // SPAN_US * SPAN_US]), axis=1
    )
    key = spans["channel_id"] * (1 << 40) + spans["start"] // SPAN_US
    return spans[np.isin(key, wanted[0] * (1 << 40) + wanted[1] // SPAN_US)]


def write_spans(cursor: CursorWrapper, spans: Records) -> None:
    """Write spans over what was there; `staged_span` must exist and be empty."""
    staged = spans.copy()
    staged["start"], staged["last_at"] = _as_pg(spans["start"]), _as_pg(spans["last_at"])
    copy_in(cursor, "staged_span", staged)
    cursor.execute(_SPANS)


def stage(cursor: CursorWrapper) -> None:
    """Make the staging tables of this connection, empty."""
    cursor.execute(_STAGE)


def _write_flags(cursor: CursorWrapper, rows: Records) -> None:
    staged = np.empty(rows.shape, _REFLAGGED)
    staged["channel_id"], staged["flags"] = rows["channel_id"], rows["flags"]
    staged["time"] = _as_pg(rows["time"])
    copy_in(cursor, "staged_flag", staged)
    cursor.execute(
        _REFLAG,
        {
            "rules": rule_book().version,
            "first": instant(int(rows["time"].min())),
            "last": instant(int(rows["time"].max())),
        },
    )


def store_readings(batch: ReadingBatch, rows: Records) -> UpsertCount:
    """Write readings by their natural key, judge them, and count what they were.

    All or nothing. A reading that is already there with the same value and unit is left
    alone; one that differs is changed and its old value kept as a revision. The counts are
    added to the batch's.

    Parameters
    ----------
    batch : ReadingBatch
        Saved.
    rows : array of `ROW`
        Each (channel, time) once; channels of one farm.
    """
    total = UpsertCount(0, 0, 0)
    open_months(rows)
    with transaction.atomic():
        for stretch in _stretches(rows):
            total += _store_stretch(batch, stretch)
    return total


def open_months(rows: Records) -> None:
    """Make room for readings of `ROW`; by callers with a transaction of their own, before it."""
    if rows.size:
        ensure_months(instant(int(rows["time"].min())), instant(int(rows["time"].max())))


def _stretches(rows: Records) -> list[Records]:
    """Readings cut by time: what stands around a few readings of many years is not read at once."""
    part = rows["time"] // STRETCH_US
    return [rows[part == p] for p in np.unique(part)]


def _store_stretch(batch: ReadingBatch, rows: Records) -> UpsertCount:
    channels = [int(c) for c in np.unique(rows["channel_id"])]
    first_us, last_us = int(rows["time"].min()), int(rows["time"].max())
    with connection.cursor() as cursor:
        lock_instruments(cursor, channels)
        facts = channel_facts(np.array(channels))
        if facts.ids.size < len(channels):
            raise LookupError("readings of a channel that does not exist")
        stored = stored_around(
            cursor,
            channels,
            first_us - _look_back_us(facts),
            last_us + int(LOOK_AHEAD_HOURS * HOUR_US),
        )
        merged, origin = _merged(stored, rows)
        before = merged["flags"].copy()
        merged["flags"] = flags_of(facts, merged)
        stage(cursor)
        count = _upsert(cursor, batch, rows, merged, origin, stored)
        reflagged = (origin < 0) & (merged["flags"] != before)
        if reflagged.any():
            _write_flags(cursor, merged[reflagged])
        touched = np.flatnonzero(reflagged | (origin >= 0))
        write_spans(cursor, _touched_spans(merged, touched))
    _note_in_batch(batch, count, instant(first_us), instant(last_us))
    return count


def _upsert(
    cursor: CursorWrapper,
    batch: ReadingBatch,
    rows: Records,
    merged: Records,
    origin: np.ndarray,
    stored: Records,
) -> UpsertCount:
    """Write the new ones among merged readings; those that say nothing new stay at home."""
    of_batch = merged[origin >= 0]
    fresh = of_batch["rules"] < 0
    news = of_batch[fresh]
    before = (stored["time"] >= rows["time"].min()) & (stored["time"] <= rows["time"].max())
    changed = 0
    if news.size:
        staged = np.empty(news.shape, _STAGED)
        for name in _STAGED.names or ():
            staged[name] = news[name]
        staged["time"] = _as_pg(news["time"])
        copy_in(cursor, "staged_reading", staged)
        where: dict[str, int | datetime] = {
            "batch": batch.pk,
            "rules": rule_book().version,
            "first": instant(int(rows["time"].min())),
            "last": instant(int(rows["time"].max())),
        }
        if before.any():
            cursor.execute(_KEEP_OLD, where)
            changed = cursor.rowcount
        cursor.execute(_WRITE, where)
    again = of_batch[~fresh]
    stale = again["flags"] != _flags_at(stored, again)
    if stale.any():
        _write_flags(cursor, again[stale])
        cursor.execute("TRUNCATE staged_flag")
    return UpsertCount(news.size - changed, changed, rows.size - news.size)


def _flags_at(stored: Records, rows: Records) -> np.ndarray:
    """Flags stored for readings that are among the stored ones; both sorted."""
    if not rows.size:
        return np.zeros(0, np.int16)
    ids, earliest = np.unique(stored["channel_id"]), int(stored["time"].min())

    def key(of: Records) -> np.ndarray:
        # 2^50 microseconds are 35 years, more than a stretch of readings ever spans.
        rank = np.searchsorted(ids, of["channel_id"])
        return np.asarray((rank << 50) + of["time"] - earliest)

    flags: np.ndarray = stored["flags"][np.searchsorted(key(stored), key(rows))]
    return flags


def _note_in_batch(
    batch: ReadingBatch, count: UpsertCount, first: datetime, last: datetime
) -> None:
    batch.new += count.new
    batch.changed += count.changed
    batch.unchanged += count.unchanged
    batch.first = min(batch.first or first, first)
    batch.last = max(batch.last or last, last)
    batch.save(update_fields=["new", "changed", "unchanged", "first", "last"])


def rejudge(channel_ids: list[int], first: datetime, last: datetime) -> int:
    """Judge stored readings again, after what surrounds them has changed; how many differ.

    Spans are made anew as well. Whole days are taken, so that no span is cut.
    """
    day_us = 24 * HOUR_US
    low = int(first.timestamp() * 1e6) // day_us * day_us
    high = int(last.timestamp() * 1e6) // day_us * day_us + day_us
    with transaction.atomic():
        return sum(
            _rejudge_stretch(channel_ids, start, min(start + STRETCH_US, high))
            for start in range(low, high, STRETCH_US)
        )


def _rejudge_stretch(channel_ids: list[int], low: int, high: int) -> int:
    with connection.cursor() as cursor:
        lock_instruments(cursor, channel_ids)
        facts = channel_facts(np.array(sorted(channel_ids)))
        if not facts.ids.size:
            return 0
        rows = stored_around(
            cursor,
            channel_ids,
            low - _look_back_us(facts),
            high + int(LOOK_AHEAD_HOURS * HOUR_US),
        )
        rows = rows.copy()
        flags = flags_of(facts, rows)
        inside = (rows["time"] >= low) & (rows["time"] < high)
        old = rows["rules"] != rule_book().version
        differs = inside & ((flags != rows["flags"]) | old)
        count = int((inside & (flags != rows["flags"])).sum())
        rows["flags"] = flags
        stage(cursor)
        if differs.any():
            _write_flags(cursor, rows[differs])
        if inside.any():
            write_spans(cursor, spans_of(rows[inside]))
    return count
