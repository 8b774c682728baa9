"""When the points of a file were written down, in seconds: passes of a machine follow from it."""

import numpy as np
import polars as pl

from core.arrays import Floats
from server.files.times import DAY_US, NO_OFFSET, NO_TIME, SECOND_US, TimeOrder, written_times

_ORDERS = (TimeOrder.YMD, TimeOrder.DMY, TimeOrder.MDY)
# Rows, from all over a file, that its order of dates is judged by.
_ROWS_JUDGED = 2000
# A time of day alone, and the day that it is read as.
_CLOCK = r"^\d{1,2}[:.]\d{2}([:.]\d{2}([.,]\d+)?)?( ?[AaPp][Mm])?$"
_ANY_DAY = "2000-01-01 "


def point_seconds(text: pl.Series) -> Floats | None:
    """Times of points, each in seconds from an instant of the file's own.

    Dates may be in any order, or missing: a clock that goes back by more than half a day has passed
    midnight. Where a date can be read in two orders, the one that makes the shorter harvest is
    meant.

    Parameters
    ----------
    text : series of str, shape (n,)

    Returns
    -------
    array, shape (n,), or None
        NaN where a row has no time; None where most have none.
    """
    text = text.str.strip_chars()
    clock = text.str.contains(_CLOCK).fill_null(False)
    if int(clock.sum()) > len(text) / 2:
        seconds = np.where(clock, _seconds(_ANY_DAY + text, TimeOrder.YMD), np.nan)
        there = np.isfinite(seconds)
        seconds[there] = np.unwrap(seconds[there], period=DAY_US / SECOND_US)
        return seconds
    some = text.gather_every(len(text) // _ROWS_JUDGED + 1)
    order = max(_ORDERS, key=lambda o: _fit(_seconds(some, o)))
    found = _seconds(text, order)
    return found if np.isfinite(found).sum() > len(text) / 2 else None


def _seconds(text: pl.Series, order: TimeOrder) -> Floats:
    local_us, offset_min = written_times(text, order)
    east_us = np.where(offset_min == NO_OFFSET, 0, offset_min) * 60 * SECOND_US
    there = local_us != NO_TIME
    return np.where(there, (np.where(there, local_us, 0) - east_us) / SECOND_US, np.nan)


def _fit(seconds: Floats) -> tuple[int, float]:
    known = seconds[np.isfinite(seconds)]
    return known.size, -float(np.ptp(known)) if known.size else 0.0
