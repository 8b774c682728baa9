"""Readings thinned to one per time bucket, for the board and the pit wall."""

from datetime import datetime, timedelta

import numpy as np
from django.db import connection

from core.arrays import Floats
from core.instrument.reading_units import ReadingUnit, to_core

# The last reading of each bucket; buckets are counted back from now, so that the newest
# bucket ends at this instant and the newest reading is always among them.
_QUERY = """
SELECT DISTINCT ON (channel_id, bucket)
    channel_id,
    floor(extract(epoch FROM (%(now)s - "time")) / %(bucket)s) AS bucket,
    extract(epoch FROM ("time" - %(now)s)) / 3600.0,
    value,
    unit
FROM readings_reading
WHERE channel_id = ANY(%(channels)s) AND "time" > %(since)s AND "time" <= %(now)s
ORDER BY channel_id, bucket, "time" DESC
"""


class Thinned:
    """One value per channel and bucket in core units [m3/m3 or kPa]."""

    def __init__(self, rows: list[tuple[int, float, float, float, str]]) -> None:
        self._by_channel: dict[int, list[tuple[int, float, float]]] = {}
        for channel, bucket, hours, value, unit in rows:
            core = float(to_core(value, ReadingUnit(unit)))
            self._by_channel.setdefault(channel, []).append((int(bucket), float(hours), core))

    def table(self, channels: list[int]) -> tuple[Floats, Floats]:
        """Readings of some channels side by side.

        Returns
        -------
        hours : array, shape (times,), rising [h from now]
            The newest moment of each bucket.
        value : array, shape (times, channels)
            NaN where a channel has none.
        """
        cells = [
            (bucket, hours, column, value)
            for column, channel in enumerate(channels)
            for bucket, hours, value in self._by_channel.get(channel, [])
        ]
        buckets = sorted({c[0] for c in cells}, reverse=True)
        row = {b: i for i, b in enumerate(buckets)}
        hours_out = np.full(len(buckets), -np.inf)
        value_out = np.full((len(buckets), len(channels)), np.nan)
        for bucket, hours, column, value in cells:
            hours_out[row[bucket]] = max(hours_out[row[bucket]], hours)
            value_out[row[bucket], column] = value
        return hours_out, value_out


def thinned_readings(
    channel_ids: list[int], now: datetime, days: float, bucket_hours: float
) -> Thinned:
    """Readings of channels over the past days, in one query.

    Callers pass channels that they found through a farm.
    """
    if not channel_ids:
        return Thinned([])
    with connection.cursor() as cursor:
        cursor.execute(
            _QUERY,
            {
                "now": now,
                "since": now - timedelta(days=days),
                "bucket": bucket_hours * 3600,
                "channels": channel_ids,
            },
        )
        return Thinned(cursor.fetchall())
