"""Flags and spans of stored readings: what the rules say now, written where it differs."""

import numpy as np

from core.arrays import Floats
from core.instrument.kinds import Quantity
from core.instrument.reading_units import coded_to_core
from core.quality.flags import Flag, doubted
from core.quality.judge import judge
from core.quality.series import Series
from server.readings.binary_copy import Records
from server.readings.channels import ChannelFacts
from server.readings.models import Review
from server.readings.surroundings import HOUR_US, soil_temperature, surroundings

SPAN_US = 3 * HOUR_US

# A stored reading as it is judged; times are epoch microseconds.
STORED = np.dtype(
    [
        ("channel_id", "i8"),
        ("time", "i8"),
        ("value", "f8"),
        ("unit", "i2"),
        ("flags", "i2"),
        ("review", "i2"),
        ("rules", "i2"),
    ]
)
SPAN = np.dtype(
    [
        ("channel_id", "i8"),
        ("start", "i8"),
        ("count", "i4"),
        ("doubted", "i4"),
        ("low", "f8"),
        ("high", "f8"),
        ("doubt_low", "f8"),
        ("doubt_high", "f8"),
        ("last", "f8"),
        ("last_at", "i8"),
        ("last_flags", "i2"),
        ("flags", "i2"),
    ]
)


def derived_values(
    facts: ChannelFacts, rows: Records, *, calibrated: bool = True
) -> tuple[Floats, Floats]:
    """What stored readings mean, and the soil's temperature beside them where that matters.

    ``calibrated`` off gives what was written down, in the core unit of its quantity.

    Returns
    -------
    value : array, shape (readings,) [m3/m3, kPa, or the core unit of the quantity]
        NaN where no curve is known.
    soil_c : array, shape (readings,) [degrees C]
    """
    channel = np.searchsorted(facts.ids, rows["channel_id"])
    raw = coded_to_core(rows["value"], rows["unit"])
    if not calibrated:
        return raw, np.full(raw.shape, np.nan)
    in_soil = facts.sensors.is_theta | facts.sensors.is_tension
    soil_c = soil_temperature(facts, channel, rows["time"], in_soil[channel])
    return facts.derived(channel, rows["time"] / 1e6, raw, soil_c), soil_c


def flags_of(facts: ChannelFacts, rows: Records) -> np.ndarray:
    """Flags of readings sorted by channel and time; array of i2."""
    if not rows.size:
        return np.zeros(0, np.int16)
    value, soil_c = derived_values(facts, rows)
    channel = np.searchsorted(facts.ids, rows["channel_id"])
    known = np.isfinite(value)
    flags = np.zeros(rows.shape, np.int16)
    # A line shorted or open reads as no tension at all.
    no_tension = np.array([q is Quantity.RESISTANCE for q in facts.quantity])[channel]
    flags[~known & no_tension] = Flag.RANGE
    if not known.any():
        return flags
    origin = int(rows["time"].min())
    series = Series.of(channel[known], (rows["time"][known] - origin) / HOUR_US, value[known])
    around = surroundings(facts, series, rows["time"][known], origin, soil_c[known])
    flags[known] = judge(series, facts.sensors, around)
    return flags


def effective_flags(rows: Records) -> np.ndarray:
    """Flags with a person's word in them: none where trusted, `Flag.SUSPECT` where doubted."""
    marked = rows["flags"] | np.int16(Flag.SUSPECT)
    return np.select(
        [rows["review"] == Review.TRUSTED, rows["review"] == Review.DOUBTED],
        [np.int16(0), marked],
        rows["flags"],
    ).astype(np.int16)


def spans_of(rows: Records) -> Records:
    """Three-hour spans of readings sorted by channel and time; NaN where there is no extreme."""
    start = rows["time"] // SPAN_US * SPAN_US
    new = np.concatenate([[True], (np.diff(start) != 0) | (np.diff(rows["channel_id"]) != 0)])
    at = np.flatnonzero(new) if rows.size else np.zeros(0, np.int64)
    out = np.empty(at.shape, SPAN)
    if not rows.size:
        return out
    flags = effective_flags(rows)
    trusted = ~doubted(flags)
    value = coded_to_core(rows["value"], rows["unit"])
    out["channel_id"], out["start"] = rows["channel_id"][at], start[at]
    out["count"] = np.diff(np.append(at, rows.size))
    out["doubted"] = np.add.reduceat(~trusted, at, dtype=np.int32)
    for low, high, which in (("low", "high", trusted), ("doubt_low", "doubt_high", ~trusted)):
        lowest = np.minimum.reduceat(np.where(which, value, np.inf), at)
        highest = np.maximum.reduceat(np.where(which, value, -np.inf), at)
        out[low] = np.where(np.isfinite(lowest), lowest, np.nan)
        out[high] = np.where(np.isfinite(highest), highest, np.nan)
    # The last trusted reading stands for the span; the last at all where none is trusted.
    place = np.arange(rows.size)
    newest = np.maximum.reduceat(np.where(trusted, place, -1), at)
    end = np.append(at[1:], rows.size) - 1
    last = np.where(newest >= 0, newest, end)
    out["last"], out["last_at"] = value[last], rows["time"][last]
    out["last_flags"] = flags[last]
    out["flags"] = np.bitwise_or.reduceat(flags, at)
    return out
