"""Readings as SensorThings observations: what they mean, the raw word and the doubts beside."""

from datetime import UTC, datetime
from typing import Any

import numpy as np
from django.db import connection

from core.instrument.reading_units import UNIT_OF_CODE
from core.quality.flags import doubted, reasons
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.readings.binary_copy import copy_out
from server.readings.channels import channel_facts
from server.readings.judging import STORED, derived_values, effective_flags
from server.readings.store import instant
from server.sensorthings.options import Comparison, Options

TIMES = ("phenomenonTime", "resultTime")
_PAGE = """
SELECT channel_id, "time", value, unit, flags, review, rules FROM readings_reading
WHERE channel_id = ANY(%(channels)s) AND "time" >= %(low)s AND "time" <= %(high)s
ORDER BY "time" {way}, channel_id {way} OFFSET %(skip)s LIMIT %(top)s
"""
_COUNT = """
SELECT count(*) FROM readings_reading
WHERE channel_id = ANY(%(channels)s) AND "time" >= %(low)s AND "time" <= %(high)s
"""
EARLIEST = datetime(1970, 1, 1, tzinfo=UTC)
LATEST = datetime(2200, 1, 1, tzinfo=UTC)
ONE_US = 1 / 1e6


def time_bounds(filters: tuple[Comparison, ...]) -> tuple[datetime, datetime]:
    """First and last instant that comparisons of time let through, to the microsecond.

    Raises
    ------
    RequestError
        On a comparison with anything but an instant, or by ne.
    """
    low, high = EARLIEST.timestamp(), LATEST.timestamp()
    for c in filters:
        if not isinstance(c.value, datetime) or c.op == "ne":
            raise RequestError(
                sentence("The query can't be answered."),
                (
                    Problem(
                        field="$filter",
                        message=sentence(
                            "Observations are filtered by phenomenonTime eq, gt, ge, lt, le "
                            "an instant, e.g. 2026-07-01T00:00:00Z."
                        ),
                    ),
                ),
            )
        at = c.value.timestamp()
        if c.op in ("ge", "gt", "eq"):
            low = max(low, at + (ONE_US if c.op == "gt" else 0))
        if c.op in ("le", "lt", "eq"):
            high = min(high, at - (ONE_US if c.op == "lt" else 0))
    return datetime.fromtimestamp(low, UTC), datetime.fromtimestamp(max(high, 0), UTC)


def observation_page(
    channels: list[int], options: Options, base: str
) -> tuple[list[dict[str, Any]], int | None, bool]:
    """One page of observations, how many there are in all when asked, and whether more follow.

    Parameters
    ----------
    channels : the channels of one farm
    """
    low, high = time_bounds(options.filters)
    where: dict[str, Any] = {
        "channels": channels,
        "low": low,
        "high": high,
        "skip": options.skip,
        "top": options.top + 1,
    }
    total = None
    with connection.cursor() as cursor:
        if options.count:
            cursor.execute(_COUNT, where)
            total = cursor.fetchone()[0]
        query = _PAGE.format(way="DESC" if options.descending else "ASC")
        rows = copy_out(cursor, query, where, STORED)
    more = rows.size > options.top
    rows = rows[: options.top]
    if not rows.size:
        return [], total, False
    facts = channel_facts(np.unique(rows["channel_id"]))
    value, _ = derived_values(facts, rows)
    flags = effective_flags(rows)
    words = {int(f): reasons(int(f)) for f in np.unique(flags)}
    bad = doubted(flags)
    page = []
    for k, row in enumerate(rows):
        key = f"{row['channel_id']}-{row['time']}"
        at = instant(int(row["time"])).isoformat().replace("+00:00", "Z")
        page.append(
            {
                "@iot.id": key,
                "@iot.selfLink": f"{base}/Observations('{key}')",
                "phenomenonTime": at,
                "resultTime": at,
                "result": float(value[k]) if np.isfinite(value[k]) else None,
                "resultQuality": {"used": not bad[k], "reasons": words[int(flags[k])]},
                "parameters": {
                    "raw": float(row["value"]),
                    "raw_unit": str(UNIT_OF_CODE[int(row["unit"])]),
                },
                "Datastream@iot.navigationLink": f"{base}/Datastreams({row['channel_id']})",
            }
        )
    return page, total, more
