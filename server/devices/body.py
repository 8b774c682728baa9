"""What a device sends, as columns: JSON by series or by reading, or CSV; gzip or plain."""

import csv
import io
import json
import zlib
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import numpy as np

from core.arrays import Floats
from core.instrument.reading_units import ReadingUnit, code_of
from core.sentence import Sentence, sentence
from server.base.errors import Problem, RequestError
from server.files.times import NO_TIME

MAX_BYTES = 16 * 2**20
MAX_ROWS = 100_000
# Marks in a body that parting it makes objects of, for each of its readings at most.
_IN_JSON = {b"{": 1, b"[": 2, b",": 8}
_IN_CSV = {b"\n": 2, b"\r": 2, b",": 8}
_UNITS = {str(u).lower(): code_of(u) for u in ReadingUnit}
CSV_COLUMNS = ("channel", "time", "value", "unit")


@dataclass(frozen=True)
class Sent:
    """Rows as sent, and what the device says of itself.

    channel, time_us, value, unit : arrays, shape (rows,), as `check_rows` takes them
    """

    channel: np.ndarray
    time_us: np.ndarray
    value: Floats
    unit: np.ndarray
    key: str | None = None
    sent_at: datetime | None = None
    battery_v: float | None = None
    signal_dbm: float | None = None


def _unreadable(message: Sentence) -> RequestError:
    return RequestError(
        sentence("The batch can't be read; nothing was stored."), (Problem(message=message),)
    )


def _too_many() -> RequestError:
    return _unreadable(
        sentence("A batch has up to {max_rows:,} readings. Send smaller ones.", max_rows=MAX_ROWS)
    )


def _refuse_crowded(text: bytes, marks: dict[bytes, int]) -> None:
    """Refuse a body of more things than a batch has before memory is filled with them."""
    if any(text.count(mark) > most * MAX_ROWS + 100 for mark, most in marks.items()):
        raise _too_many()


def inflated(body: bytes, encoding: str) -> bytes:
    """A body out of its gzip, within bounds."""
    if encoding in ("", "identity"):
        out = body
    elif encoding == "gzip":
        unzip = zlib.decompressobj(wbits=31)
        try:
            out = unzip.decompress(body, MAX_BYTES + 1)
        except zlib.error:
            raise _unreadable(
                sentence("The body is not gzip, though its header says so.")
            ) from None
        if not unzip.eof and len(out) <= MAX_BYTES:
            raise _unreadable(sentence("The gzip body is incomplete."))
    else:
        raise _unreadable(
            sentence("The body must be plain or gzip, not {encoding!r}.", encoding=encoding[:40])
        )
    if len(out) > MAX_BYTES:
        raise _unreadable(
            sentence(
                "A batch has up to {max_bytes} MB. Send smaller ones.", max_bytes=MAX_BYTES // 2**20
            )
        )
    return out


def _time(text: object) -> int:
    """Epoch microseconds of ISO 8601 with an offset, or of seconds; `NO_TIME` if neither."""
    if isinstance(text, bool):
        return NO_TIME
    if isinstance(text, int | float):
        return round(text * 1e6) if abs(text) < 1e11 else NO_TIME
    if not isinstance(text, str):
        return NO_TIME
    try:
        moment = datetime.fromisoformat(text.strip())
        return NO_TIME if moment.tzinfo is None else round(moment.timestamp() * 1e6)
    except (ValueError, OverflowError):
        return NO_TIME


def _number(value: object) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        return float("nan")
    try:
        return float(value)
    except OverflowError:  # JSON's whole numbers know no bounds
        return float("nan")


def _channel(value: object) -> int:
    ok = isinstance(value, int) and not isinstance(value, bool) and 0 < value < 2**62
    return value if ok else 0  # type: ignore[return-value]


def _unit(value: object) -> int:
    return _UNITS.get(value.strip().lower(), 0) if isinstance(value, str) else 0


def _optional_number(body: dict[str, Any], name: str) -> float | None:
    number = _number(body.get(name))
    return number if np.isfinite(number) else None


def _columns(
    channel: list[int], time_us: list[int], value: list[float], unit: list[int], **details: Any
) -> Sent:
    if len(channel) > MAX_ROWS:
        raise _too_many()
    return Sent(
        np.array(channel, np.int64),
        np.array(time_us, np.int64),
        np.array(value, float),
        np.array(unit, np.int16),
        **details,
    )


def _series(
    entries: list[Any],
) -> tuple[list[int], list[int], list[float], list[int]]:
    channel: list[int] = []
    time_us: list[int] = []
    value: list[float] = []
    unit: list[int] = []
    for k, entry in enumerate(entries):
        if not isinstance(entry, dict):
            raise _unreadable(sentence("series[{k}] is not an object.", k=k))
        times, values = entry.get("times"), entry.get("values")
        if not isinstance(times, list) or not isinstance(values, list):
            raise _unreadable(sentence("series[{k}] needs the lists 'times' and 'values'.", k=k))
        if len(times) != len(values):
            raise _unreadable(
                sentence(
                    "series[{k}] has {times} times and {values} values; they must pair.",
                    k=k,
                    times=len(times),
                    values=len(values),
                )
            )
        channel += [_channel(entry.get("channel"))] * len(times)
        unit += [_unit(entry.get("unit"))] * len(times)
        time_us += [_time(t) for t in times]
        value += [_number(v) for v in values]
    return channel, time_us, value, unit


def _readings(entries: list[Any]) -> tuple[list[int], list[int], list[float], list[int]]:
    rows = [e if isinstance(e, dict) else {} for e in entries]
    return (
        [_channel(r.get("channel")) for r in rows],
        [_time(r.get("time")) for r in rows],
        [_number(r.get("value")) for r in rows],
        [_unit(r.get("unit")) for r in rows],
    )


def from_json(text: bytes) -> Sent:
    """Columns of a JSON body.

    Raises
    ------
    RequestError
        When the body as a whole can't be read; single rows are refused later, one by one.
    """
    _refuse_crowded(text, _IN_JSON)
    try:
        body = json.loads(text)
    except (ValueError, RecursionError):
        raise _unreadable(sentence("The body is not JSON.")) from None
    if not isinstance(body, dict):
        raise _unreadable(sentence("The body is a JSON object with 'series' or 'readings'."))
    series, readings = body.get("series", []), body.get("readings", [])
    if not isinstance(series, list) or not isinstance(readings, list):
        raise _unreadable(sentence("'series' and 'readings' are lists."))
    key = body.get("batch")
    if key is not None and (not isinstance(key, str) or not 0 < len(key) <= 80 or "\0" in key):
        raise _unreadable(sentence("'batch' is a name of up to 80 characters."))
    one, two = _series(series), _readings(readings)
    sent_us = _time(body.get("sent_at"))
    return _columns(
        *(a + b for a, b in zip(one, two, strict=True)),  # type: ignore[operator]
        key=key,
        sent_at=None if sent_us == NO_TIME else _moment(sent_us),
        battery_v=_optional_number(body, "battery_v"),
        signal_dbm=_optional_number(body, "signal_dbm"),
    )


def _moment(time_us: int) -> datetime | None:
    try:
        return datetime.fromtimestamp(time_us / 1e6, UTC)
    except (ValueError, OverflowError, OSError):
        return None


def _cell_number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return float("nan")


def from_csv(text: bytes) -> Sent:
    """Columns of a CSV body with the heading ``channel,time,value,unit``.

    Raises
    ------
    RequestError
    """
    _refuse_crowded(text, _IN_CSV)
    try:
        rows = list(csv.reader(io.StringIO(text.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise _unreadable(sentence("The body is not CSV in UTF-8.")) from None
    heading = [c.strip().lower() for c in rows[0]] if rows else []
    missing = [c for c in CSV_COLUMNS if c not in heading]
    if missing:
        raise _unreadable(
            sentence(
                "The heading is {columns}; {missing} missing.",
                columns=",".join(CSV_COLUMNS),
                missing=", ".join(missing),
            )
        )
    at = {name: heading.index(name) for name in CSV_COLUMNS}

    def cells(name: str) -> list[str]:
        place = at[name]
        return [r[place].strip() if place < len(r) else "" for r in rows[1:] if r]

    def when(text: str) -> int:
        seconds = _cell_number(text)
        return _time(seconds) if np.isfinite(seconds) else _time(text)

    return _columns(
        [int(c) if c.isascii() and c.isdigit() and len(c) < 19 else 0 for c in cells("channel")],
        [when(c) for c in cells("time")],
        [_cell_number(c) for c in cells("value")],
        [_unit(c) for c in cells("unit")],
    )
