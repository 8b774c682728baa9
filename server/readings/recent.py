"""Readings thinned to one per time bucket, for the board and a block's soil profile."""

from datetime import datetime, timedelta
from typing import Any

import numpy as np
from django.db import connection

from core.arrays import Floats
from core.instrument.reading_units import coded_to_core
from core.quality.flags import Flag, doubting
from server.readings.binary_copy import Records, copy_out
from server.readings.channels import channel_facts
from server.readings.judging import SPAN_US
from server.readings.surroundings import HOUR_US, soil_temperature

# The last trusted reading of each bucket, or the last at all; buckets are counted back from
# now, so that the newest bucket ends at this instant.
_FROM_READINGS = """
SELECT DISTINCT ON (channel_id, bucket)
    channel_id, "time", value, unit, flags, bucket
FROM (
    SELECT channel_id, "time", value, unit,
        (CASE review WHEN 1 THEN 0 WHEN 2 THEN flags | %(suspect)s ELSE flags END)::int2
            AS flags,
        date_bin(%(bucket)s, "time" - interval '1 microsecond', %(now)s) AS bucket
    FROM readings_reading
    WHERE channel_id = ANY(%(channels)s) AND "time" > %(since)s AND "time" <= %(now)s
) r
ORDER BY channel_id, bucket DESC, (flags & %(doubting)s) <> 0, "time" DESC
"""
# Unit 0 is the core's own: spans hold converted values.
_FROM_SPANS = """
SELECT channel_id, last_at, last, 0::int2, last_flags, start
FROM readings_readingspan
WHERE channel_id = ANY(%(channels)s) AND start > %(since)s AND last_at <= %(now)s
ORDER BY channel_id, start DESC
"""
# The last span of each day, counted back from now: a store changes little within hours.
_BY_DAY = """
SELECT DISTINCT ON (channel_id, bucket) channel_id, last_at, last, 0::int2, last_flags,
    date_bin(interval '1 day', last_at - interval '1 microsecond', %(now)s) AS bucket
FROM readings_readingspan
WHERE channel_id = ANY(%(channels)s) AND start > %(since)s AND last_at <= %(now)s
ORDER BY channel_id, bucket DESC, (last_flags & %(doubting)s) <> 0, last_at DESC
"""
_ROW = np.dtype(
    [
        ("channel_id", "i8"),
        ("time", "i8"),
        ("value", "f8"),
        ("unit", "i2"),
        ("flags", "i2"),
        ("bucket", "i8"),
    ]
)


class Thinned:
    """One reading per channel and bucket, as what it means [m3/m3, kPa, ...], with its flags."""

    def __init__(self, rows: Records, value: Floats, hours: Floats) -> None:
        self._rows, self._value, self._hours = rows, value, hours
        # Searched once a block: a field of a record would be copied out each time.
        self._ids = np.ascontiguousarray(rows["channel_id"])
        self._buckets = np.ascontiguousarray(rows["bucket"])

    def table(self, channels: list[int]) -> tuple[Floats, Floats, np.ndarray]:
        """Readings of some channels side by side.

        Returns
        -------
        hours : array, shape (times,), rising [h from now]
            The newest moment of each bucket.
        value : array, shape (times, channels)
            NaN where a channel has none.
        flags : array of int, shape (times, channels)
        """
        column_of = {c: k for k, c in enumerate(channels)}
        if not channels:
            return np.empty(0), np.empty((0, 0)), np.empty((0, 0), np.int16)
        ids = self._ids
        first = np.searchsorted(ids, channels, "left")
        end = np.searchsorted(ids, channels, "right")
        at = np.concatenate([np.arange(a, b) for a, b in zip(first, end, strict=True)])
        buckets, place = np.unique(self._buckets[at], return_inverse=True)
        column = np.array([column_of[int(c)] for c in ids[at]], np.int64)
        hours = np.full(buckets.size, -np.inf)
        np.maximum.at(hours, place, self._hours[at])
        value = np.full((buckets.size, len(channels)), np.nan)
        flags = np.zeros((buckets.size, len(channels)), np.int16)
        value[place, column] = self._value[at]
        flags[place, column] = self._rows["flags"][at]
        return hours, value, flags


def thinned_readings(
    channel_ids: list[int], now: datetime, days: float, bucket_hours: float
) -> Thinned:
    """Readings of channels over the past days, in one query.

    Callers pass channels that they found through a farm. Buckets of three hours are the stored
    spans, which begin on the clock; others are counted back from now.
    """
    spans = bucket_hours * HOUR_US == SPAN_US
    more = {"bucket": timedelta(hours=bucket_hours), "suspect": int(Flag.SUSPECT)}
    rows = _rows(_FROM_SPANS if spans else _FROM_READINGS, channel_ids, now, days, more)
    return _thinned(rows, now, spans)


def daily_readings(channel_ids: list[int], now: datetime, days: float) -> Thinned:
    """The last reading of each day over a season, of stored spans; see `thinned_readings`."""
    return _thinned(_rows(_BY_DAY, channel_ids, now, days, {}), now, spans=True)


def _rows(
    query: str, channel_ids: list[int], now: datetime, days: float, more: dict[str, Any]
) -> Records:
    where = {
        "now": now,
        "since": now - timedelta(days=days),
        "channels": channel_ids,
        "doubting": doubting(),
    }
    with connection.cursor() as cursor:
        return copy_out(cursor, query, where | more, _ROW, ("time", "bucket"))


def _thinned(rows: Records, now: datetime, spans: bool) -> Thinned:
    facts = channel_facts(np.unique(rows["channel_id"]))
    channel = np.searchsorted(facts.ids, rows["channel_id"])
    raw = rows["value"] if spans else coded_to_core(rows["value"], rows["unit"])
    resistance = np.array([q == "resistance" for q in facts.quantity], bool)
    soil_c = soil_temperature(facts, channel, rows["time"], resistance[channel])
    value = facts.derived(channel, rows["time"] / 1e6, raw, soil_c)
    hours: Floats = (rows["time"] - now.timestamp() * 1e6) / HOUR_US
    return Thinned(rows, value, hours)
