"""Readings of an instrument over any stretch, as many points as a screen can show.

A short stretch is thinned from the readings, a long one taken from the stored spans; in both
each step of time keeps its lowest and highest trusted value, so that no peak is lost.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from math import isnan

import numpy as np
from django.db import connection
from tsdownsample import MinMaxDownsampler

from core.arrays import Floats
from core.instrument.kinds import Quantity
from core.quality.flags import doubted
from server.instruments.models import Channel
from server.readings.binary_copy import Records, copy_out
from server.readings.channels import ChannelFacts, channel_facts, meaning
from server.readings.judging import SPAN_US, derived_values, effective_flags
from server.readings.store import stored_around
from server.readings.surroundings import HOUR_US

STEPS = 700  # about one a pixel and a half of a desk screen
RAW_UP_TO = timedelta(days=45)
MAX_DOUBTED = 400  # marks of a channel; more than that is a stretch, not a reading

_SPANS = """
SELECT channel_id, bucket, coalesce(min(low), 'NaN'), coalesce(max(high), 'NaN'),
    coalesce(min(doubt_low), 'NaN'), coalesce(max(doubt_high), 'NaN'), bit_or(flags)::int2
FROM (
    SELECT channel_id, low, high, doubt_low, doubt_high, flags,
        date_bin(%(bucket)s, start, 'epoch') AS bucket
    FROM readings_readingspan
    WHERE channel_id = ANY(%(channels)s) AND start >= %(first)s AND start <= %(last)s
) s
GROUP BY 1, 2 ORDER BY 1, 2
"""
_BUCKET = np.dtype(
    [
        ("channel_id", "i8"),
        ("bucket", "i8"),
        ("low", "f8"),
        ("high", "f8"),
        ("doubt_low", "f8"),
        ("doubt_high", "f8"),
        ("flags", "i2"),
    ]
)


@dataclass(frozen=True)
class ChannelLine:
    """One channel's line: epoch seconds and values, rising in time, and what is not trusted.

    doubts : (epoch seconds, value, flags) of readings that are not used
    noted : every flag that occurs
    """

    channel_id: int
    depth_mm: float | None
    quantity: Quantity
    times: list[int]
    values: list[float | None]
    doubts: list[tuple[int, float, int]]
    noted: int


def _rounded(value: Floats, quantity: Quantity) -> Floats:
    digits = 4 if quantity is Quantity.THETA else 2
    out: Floats = np.round(value, digits)
    return out


def _listed(value: Floats) -> list[float | None]:
    return [None if isnan(v) else v for v in value.tolist()]


def chart_lines(
    channels: list[Channel], first: datetime, last: datetime, *, calibrated: bool
) -> tuple[list[ChannelLine], int]:
    """Lines of channels between two instants, and the seconds of a step; 0: every reading.

    ``calibrated`` gives what readings mean; otherwise what was written down, in core units.
    """
    ids = sorted(c.pk for c in channels)
    facts = channel_facts(np.array(ids))
    where = {"channels": ids, "first": first, "last": last}
    with connection.cursor() as cursor:
        if last - first <= RAW_UP_TO:
            low, high = (round(x.timestamp() * 1e6) for x in (first, last))
            rows = stored_around(cursor, ids, low, high)
            return _from_readings(facts, rows, calibrated)
        bucket = int(
            np.ceil((last - first).total_seconds() / STEPS / (SPAN_US / 1e6)) * (SPAN_US / 1e6)
        )
        step = {"bucket": timedelta(seconds=bucket)}
        rows = copy_out(cursor, _SPANS, {**where, **step}, _BUCKET, ("bucket",))
    rows["bucket"] //= 1_000_000
    return _from_spans(facts, rows, bucket, calibrated), bucket


def _from_readings(
    facts: ChannelFacts, rows: Records, calibrated: bool
) -> tuple[list[ChannelLine], int]:
    value, _ = derived_values(facts, rows, calibrated=calibrated)
    flags = effective_flags(rows)
    lines, step = [], 0
    for k, channel in enumerate(facts.ids):
        a, b = np.searchsorted(rows["channel_id"], [channel, channel + 1])
        quantity = meaning(facts.quantity[k]) if calibrated else facts.quantity[k]
        channel_values, at, marks = _rounded(value[a:b], quantity), rows["time"][a:b], flags[a:b]
        good = np.isfinite(channel_values) & ~doubted(marks)
        bad = np.flatnonzero(np.isfinite(channel_values) & doubted(marks))
        t, v = at[good], channel_values[good]
        keep = np.arange(t.size)
        if t.size > 2 * STEPS:
            thinner = MinMaxDownsampler()  # type: ignore[no-untyped-call]
            keep = thinner.downsample(t, v, n_out=2 * STEPS).astype(np.int64)
            step = max(step, int((t[-1] - t[0]) / 1e6 / STEPS))
        t, v = _with_gaps(t, v, keep)
        thin = bad[:: max(len(bad) // MAX_DOUBTED, 1)]
        lines.append(
            ChannelLine(
                int(channel),
                _depth(facts, k),
                quantity,
                (t // 1_000_000).tolist(),
                _listed(v),
                list(
                    zip(
                        (at[thin] // 1_000_000).tolist(),
                        channel_values[thin].tolist(),
                        marks[thin].tolist(),
                        strict=True,
                    )
                ),
                int(np.bitwise_or.reduce(marks)) if marks.size else 0,
            )
        )
    return lines, step


def _with_gaps(t: np.ndarray, v: Floats, keep: np.ndarray) -> tuple[np.ndarray, Floats]:
    """The kept points, with an empty one wherever readings are missing for long."""
    if t.size < 3:
        return t[keep], v[keep]
    usual = float(np.median(np.diff(t)))
    gap = np.flatnonzero(np.diff(t) > max(4 * usual, HOUR_US))
    # The ends of a gap must stay, or the line would lean into it.
    keep = np.union1d(keep, np.concatenate([gap, gap + 1]))
    middle = (t[gap] + t[gap + 1]) // 2
    times = np.concatenate([t[keep], middle])
    values = np.concatenate([v[keep], np.full(middle.size, np.nan)])
    order = np.argsort(times, kind="stable")
    return times[order], values[order]


def _depth(facts: ChannelFacts, place: int) -> float | None:
    depth = float(facts.depth_mm[place])
    return None if isnan(depth) else depth


def _from_spans(
    facts: ChannelFacts, rows: Records, bucket: int, calibrated: bool
) -> list[ChannelLine]:
    lines = []
    for k, channel in enumerate(facts.ids):
        a, b = np.searchsorted(rows["channel_id"], [channel, channel + 1])
        channel_values = rows[a:b]
        quantity = meaning(facts.quantity[k]) if calibrated else facts.quantity[k]
        n = channel_values.size
        # Lowest in the first half of the step, highest in the second: both stay to be seen.
        times = np.repeat(channel_values["bucket"], 2)
        times[1::2] += bucket // 2
        value: Floats = np.empty(2 * n)
        value[0::2], value[1::2] = channel_values["low"], channel_values["high"]
        heard = np.repeat(np.isfinite(channel_values["doubt_high"]), 2)
        doubt: Floats = np.empty(2 * n)
        doubt[0::2], doubt[1::2] = channel_values["doubt_low"], channel_values["doubt_high"]
        if calibrated:
            place = np.full(2 * n, k)
            soil_c = np.full(2 * n, np.nan)
            value = facts.derived(place, times.astype(float), value, soil_c)
            doubt = facts.derived(place, times.astype(float), doubt, soil_c)
        value, doubt = _rounded(value, quantity), _rounded(doubt, quantity)
        bad = np.flatnonzero(heard & np.isfinite(doubt))
        bad = bad[:: max(len(bad) // MAX_DOUBTED, 1)]
        flags = np.repeat(channel_values["flags"], 2)
        moments = times
        times, value = _spans_with_gaps(times, value, bucket)
        lines.append(
            ChannelLine(
                int(channel),
                _depth(facts, k),
                quantity,
                times.tolist(),
                _listed(value),
                [
                    (int(at), float(v), int(f))
                    for at, v, f in zip(moments[bad], doubt[bad], flags[bad], strict=True)
                ],
                int(np.bitwise_or.reduce(channel_values["flags"])) if n else 0,
            )
        )
    return lines


def _spans_with_gaps(times: np.ndarray, value: Floats, bucket: int) -> tuple[np.ndarray, Floats]:
    gap = np.flatnonzero(np.diff(times) > 2 * bucket)
    return (
        np.insert(times, gap + 1, times[gap] + bucket),
        np.insert(value, gap + 1, np.nan),
    )
