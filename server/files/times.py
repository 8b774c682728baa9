"""Times as loggers write them, as instants: many at once, with summer time and its folds."""

import re
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
import polars as pl

FARM_CLOCK, UTC_CLOCK = "farm", "utc"
_OFFSET = re.compile(r"([+-])(\d{2}):(\d{2})")
MAX_OFFSET_MINUTES = 14 * 60
NO_TIME = np.iinfo(np.int64).min
NO_OFFSET = -9999  # minutes, where the text says nothing of its clock
SECOND_US = 1_000_000
DAY_US = 86_400 * SECOND_US
_SERIAL_ZERO_DAYS = -25_569  # 1899-12-30
_DATED = (
    r"^\s*(\d{1,4})[-/. ](\d{1,2}|[A-Za-z]{3,9})[-/. ](\d{1,4})"
    r"(?:[ T,]+(\d{1,2})[:.h](\d{2})(?:[:.](\d{2})(?:[.,](\d{1,9}))?)?\s*([AaPp][Mm])?)?"
    r"\s*(Z|UTC|GMT|[+-]\d{2}:?\d{2})?\s*$"
)
_MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"]
SKIPPED_HOUR = NO_TIME + 1  # the farm's clock never showed this time


class TimeOrder(StrEnum):
    """How an instant is written."""

    YMD = "ymd"
    DMY = "dmy"
    MDY = "mdy"
    EPOCH_S = "epoch_s"
    EPOCH_MS = "epoch_ms"
    SERIAL = "serial"  # days since 1899-12-30, as spreadsheets count


def offset_minutes(clock: str) -> int | None:
    """Minutes east of UTC of a clock that stands still; None for the farm's own.

    Raises
    ------
    ValueError
        When it is no clock.
    """
    if clock == FARM_CLOCK:
        return None
    if clock == UTC_CLOCK:
        return 0
    match = _OFFSET.fullmatch(clock)
    if match is None:
        raise ValueError(clock)
    minutes = int(match[2]) * 60 + int(match[3])
    if minutes > MAX_OFFSET_MINUTES or int(match[3]) > 59:
        raise ValueError(clock)
    return -minutes if match[1] == "-" else minutes


@dataclass
class Folds:
    """Which pass of autumn's repeated hour each series is in, carried along the file.

    ``newest_first``: the file runs backwards.
    """

    newest_first: bool = False
    last_us: dict[int, int] = field(default_factory=dict)


def _order_parts(
    a: np.ndarray, b: np.ndarray, c: np.ndarray, order: TimeOrder
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    if order is TimeOrder.DMY:
        year, month, day = c, b, a
    elif order is TimeOrder.MDY:
        year, month, day = c, a, b
    else:
        year, month, day = a, b, c
    # Two digits mean this century: no logger is older.
    return np.where((year >= 0) & (year < 100), year + 2000, year), month, day


def _days(year: np.ndarray, month: np.ndarray, day: np.ndarray) -> np.ndarray:
    """Days since 1970; -2^40 where there is no such day."""
    ok = (year >= 1900) & (year < 2200) & (month >= 1) & (month <= 12) & (day >= 1)
    months = np.where(ok, (year - 1970) * 12 + month - 1, 0)
    start = months.astype("datetime64[M]").astype("datetime64[D]").astype(np.int64)
    end = (months + 1).astype("datetime64[M]").astype("datetime64[D]").astype(np.int64)
    days = start + np.where(ok, day, 1) - 1
    return np.where(ok & (days < end), days, -(1 << 40))


def _int(series: pl.Series, missing: int) -> np.ndarray:
    return series.cast(pl.Int64, strict=False).fill_null(missing).to_numpy()


def _month(series: pl.Series) -> np.ndarray:
    short = series.str.to_lowercase().str.slice(0, 3)
    named = short.replace_strict(_MONTHS, list(range(1, 13)), default=None, return_dtype=pl.Int64)
    return named.fill_null(series.cast(pl.Int64, strict=False)).fill_null(-1).to_numpy()


def _spread(text: pl.Series) -> pl.Series:
    """Digits without marks (202607140615) written with them, others left alone."""
    return (
        text.str.replace(r"^(\d{4})(\d{2})(\d{2})$", "$1-$2-$3")
        .str.replace(r"^(\d{4})(\d{2})(\d{2})(\d{2})(\d{2})(\d{2})?$", "$1-$2-$3 $4:$5:$6")
        .str.replace(r":$", "")
    )


def written_times(text: pl.Series, order: TimeOrder) -> tuple[np.ndarray, np.ndarray]:
    """Local times as written.

    Parameters
    ----------
    text : series of str
    order : TimeOrder

    Returns
    -------
    local_us : array of int64
        Microseconds since 1970 by the clock of the writer; `NO_TIME` where unreadable.
    offset_min : array of int64
        Minutes east of UTC where the text says so, else `NO_OFFSET`.
    """
    text = text.str.strip_chars(" \"'\ufeff")
    none = np.full(len(text), NO_OFFSET, np.int64)
    if order in (TimeOrder.EPOCH_S, TimeOrder.EPOCH_MS, TimeOrder.SERIAL):
        return _counted(text, order), np.where(order is TimeOrder.SERIAL, none, 0)
    parts = _spread(text).str.extract_groups(_DATED)
    f = [parts.struct.field(name) for name in parts.struct.fields]
    if order is TimeOrder.MDY:
        first, second = _month(f[0]), _int(f[1], -1)
    else:
        first, second = _int(f[0], -1), _month(f[1])
    days = _days(*_order_parts(first, second, _int(f[2], -1), order))
    # A year first stands on its own, whatever the order of the others.
    iso = f[0].str.len_chars().fill_null(0).to_numpy() == 4
    if order is not TimeOrder.YMD and iso.any():
        days = np.where(iso, _days(_int(f[0], -1), _month(f[1]), _int(f[2], -1)), days)
    hour, minute, second_of = _int(f[3], 0), _int(f[4], 0), _int(f[5], 0)
    half = f[7].str.to_lowercase().fill_null("").to_numpy()
    hour = np.where((half == "pm") & (hour < 12), hour + 12, hour)
    hour = np.where((half == "am") & (hour == 12), 0, hour)
    fraction = f[6].fill_null("0").str.pad_end(6, "0").str.slice(0, 6)
    # Some loggers call midnight 24:00 of the day that ends.
    midnight = (hour == 24) & (minute == 0) & (second_of == 0)
    ok = (days > -(1 << 40)) & ((hour < 24) | midnight) & (minute < 60) & (second_of < 60)
    local = days * DAY_US + ((hour * 60 + minute) * 60 + second_of) * SECOND_US + _int(fraction, 0)
    return np.where(ok, local, NO_TIME), _offsets(f[8])


def _offsets(series: pl.Series) -> np.ndarray:
    digits = series.str.replace(":", "")
    sign = digits.str.slice(0, 1).replace_strict(["-", "+"], [-1, 1], default=0)
    hours = digits.str.slice(1, 2).cast(pl.Int64, strict=False)
    minutes = digits.str.slice(3, 2).cast(pl.Int64, strict=False)
    east = (sign * (hours * 60 + minutes)).fill_null(0)
    return np.where(series.is_null().to_numpy(), NO_OFFSET, east.to_numpy())


def _counted(text: pl.Series, order: TimeOrder) -> np.ndarray:
    number = text.str.replace(",", ".").cast(pl.Float64, strict=False).to_numpy()
    if order is TimeOrder.SERIAL:
        # A fraction of a day is exact to about a second at best.
        us = np.round((number + _SERIAL_ZERO_DAYS) * 86_400) * SECOND_US
    else:
        us = number * (SECOND_US if order is TimeOrder.EPOCH_S else 1000)
    ok = np.isfinite(us) & (np.abs(us) < 1e16)
    return np.where(ok, np.where(ok, us, 0).round().astype(np.int64), NO_TIME)


def to_instants(
    local_us: np.ndarray,
    offset_min: np.ndarray,
    clock: str,
    zone: str,
    series: np.ndarray,
    folds: Folds,
) -> np.ndarray:
    """Instants of times as written.

    Parameters
    ----------
    local_us, offset_min : arrays of int64, shape (rows,), of `written_times`
    clock : str, of the layout
    zone : str, the farm's time zone
    series : array of int, shape (rows,)
        Rows of one series follow each other in time; for a wide file all are 0.
    folds : Folds
        Carried from stretch to stretch of a file.

    Returns
    -------
    array of int64, shape (rows,) [epoch microseconds]
        `NO_TIME` where unreadable, `SKIPPED_HOUR` where the clock jumped over the time.
    """
    readable = local_us != NO_TIME
    has_offset = offset_min != NO_OFFSET
    out = np.where(readable & has_offset, local_us - offset_min * 60 * SECOND_US, NO_TIME)
    still = offset_minutes(clock)
    without_offset = readable & ~has_offset
    if not without_offset.any():
        return out
    if still is not None:
        return np.where(without_offset, local_us - still * 60 * SECOND_US, out)
    at = np.flatnonzero(without_offset)
    naive = pl.Series(local_us[at]).cast(pl.Datetime("us"))
    first = _placed(naive, zone, "earliest")
    second = _placed(naive, zone, "latest")
    chosen = np.where(first == NO_TIME, SKIPPED_HOUR, first)
    twice = np.flatnonzero(first != second)
    if twice.size:
        _choose_passes(chosen, first, second, twice, series[at], folds)
    _carry(chosen, series[at], folds)
    out[at] = chosen
    return out


def _placed(naive: pl.Series, zone: str, pass_: str) -> np.ndarray:
    there = naive.dt.replace_time_zone(zone, ambiguous=pass_, non_existent="null")  # type: ignore[arg-type]
    return there.dt.epoch("us").fill_null(NO_TIME).to_numpy().copy()


def _choose_passes(
    chosen: np.ndarray,
    first: np.ndarray,
    second: np.ndarray,
    twice: np.ndarray,
    series: np.ndarray,
    folds: Folds,
) -> None:
    """Give the times of the repeated hour the pass that keeps their series in order."""
    last = dict(folds.last_us)
    ambiguous = np.zeros(chosen.size, bool)
    ambiguous[twice] = True
    # Only from the row before the first doubtful one of each stretch is order of any use.
    wanted = np.unique(np.concatenate([twice, np.maximum(twice - 1, 0)]))
    if np.unique(series).size > 1:
        wanted = np.arange(int(twice.min()), int(twice.max()) + 1)
        before = np.arange(int(twice.min()))
        for one in np.unique(series[wanted]):
            without_offset = before[series[before] == one]
            if without_offset.size:
                last[int(one)] = int(chosen[without_offset[-1]])
    for k in wanted:
        one = int(series[k])
        previous = last.get(one)
        if ambiguous[k] and previous is not None:
            if folds.newest_first:
                chosen[k] = second[k] if second[k] < previous else first[k]
            else:
                chosen[k] = first[k] if first[k] > previous else second[k]
        elif ambiguous[k] and folds.newest_first:
            chosen[k] = second[k]
        last[one] = int(chosen[k])


def _carry(chosen: np.ndarray, series: np.ndarray, folds: Folds) -> None:
    ones, from_end = np.unique(series[::-1], return_index=True)
    for one, k in zip(ones, from_end, strict=True):
        folds.last_us[int(one)] = int(chosen[chosen.size - 1 - k])


def likely_order(texts: list[str]) -> TimeOrder | None:
    """The order by which most of a column's texts are times; None when it holds none.

    Day and month are told apart by days after the twelfth; while none is seen, a point between
    them speaks for the day first, and so does a slash: the month first is written in one country.
    """
    texts = [t.strip() for t in texts if t.strip()]
    if not texts:
        return None
    column = pl.Series(texts, dtype=pl.String)
    shares = {}
    for order in (TimeOrder.YMD, TimeOrder.DMY, TimeOrder.MDY):
        local, _ = written_times(column, order)
        shares[order] = float((local != NO_TIME).mean())
    best = max(shares, key=lambda o: shares[o])
    if shares[best] >= 0.6:
        return best
    digits = [t for t in texts if re.fullmatch(r"\d{10}(\.\d+)?", t)]
    if len(digits) >= 0.6 * len(texts):
        return TimeOrder.EPOCH_S
    if sum(re.fullmatch(r"\d{13}", t) is not None for t in texts) >= 0.6 * len(texts):
        return TimeOrder.EPOCH_MS
    serial = [t for t in texts if re.fullmatch(r"[34]\d{4}[.,]\d+", t)]
    return TimeOrder.SERIAL if len(serial) >= 0.6 * len(texts) else None


def is_time_of_day(texts: list[str]) -> bool:
    """Whether a column holds hours and minutes without a date."""
    texts = [t.strip() for t in texts if t.strip()]
    clock = [t for t in texts if re.fullmatch(r"\d{1,2}:\d{2}(:\d{2})?(\s*[AaPp][Mm])?", t)]
    return bool(texts) and len(clock) >= 0.6 * len(texts)
