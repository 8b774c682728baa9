"""Reading a logger's table of values: one time column, one column per depth.

Understands comma, semicolon or tab between columns, a decimal comma where the columns are
not separated by commas, a heading with the depth of each column, ISO or day-first dates,
with or without an offset from UTC.
"""

import re
from dataclasses import dataclass
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.reading_units import ReadingUnit, to_core
from core.units import MM_PER_FOOT, MM_PER_INCH
from server.refusal import Refused
from server.table_file import (
    MISSING,
    FileProblems,
    cell_number,
    delimiter_of,
    read_rows,
    read_text,
)

TIME_FORMATS = (
    "%Y-%m-%d %H:%M:%S",
    "%Y-%m-%d %H:%M",
    "%Y/%m/%d %H:%M:%S",
    "%Y/%m/%d %H:%M",
    "%d.%m.%Y %H:%M:%S",
    "%d.%m.%Y %H:%M",
    "%d/%m/%Y %H:%M:%S",
    "%d/%m/%Y %H:%M",
)
_DEPTH = re.compile(r"(\d+(?:[.,]\d+)?)\s*(mm|cm|m|inches|inch|in|feet|foot|ft)(?![a-z])", re.I)
_DEPTH_MM = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    "ft": MM_PER_FOOT,
    "foot": MM_PER_FOOT,
    "feet": MM_PER_FOOT,
}


@dataclass(frozen=True)
class FileReading:
    """One cell: depth [mm], instant (UTC) and the raw value in the file's unit."""

    depth_mm: float
    time: datetime
    value: float


@dataclass(frozen=True)
class LoggerTable:
    """A file as understood; ``gaps`` counts empty cells."""

    depths_mm: tuple[float, ...]
    readings: tuple[FileReading, ...]
    gaps: int
    rows: int


def _depths(heading: list[str], row: int, problems: FileProblems) -> list[float | None]:
    """Depth of each value column; None where there is none to be had."""
    depths: list[float | None] = []
    for name in heading[1:]:
        match = _DEPTH.search(name.replace("_", " "))
        if not name.strip() and not any(heading[1:][len(depths) :]):
            break
        if match is None:
            problems.add(
                row,
                name.strip() or f"column {len(depths) + 2}",
                "This heading names no depth. Write it with its unit, e.g. '30 cm' or '12 in'.",
            )
            depths.append(None)
            continue
        depth = float(match[1].replace(",", ".")) * _DEPTH_MM[match[2].lower()]
        depth = round(depth, 1)
        if depth in depths:
            problems.add(row, name.strip(), f"The depth {match[0]} appears twice in the heading.")
        depths.append(depth)
    return depths


def _parse_time(text: str) -> datetime | None:
    """A time as written, aware only when it carries an offset; None when not understood."""
    cleaned = text.strip().strip('"')
    try:
        return datetime.fromisoformat(cleaned)
    except ValueError:
        pass
    for form in TIME_FORMATS:
        try:
            return datetime.strptime(cleaned, form)
        except ValueError:
            continue
    return None


def to_instant(local: datetime, zone: ZoneInfo, after: datetime | None) -> datetime | None:
    """The instant of a farm-local time; None when clocks skipped it.

    In the hour that autumn repeats, a time that would not come after ``after`` (the row
    before) is taken from the second pass.
    """
    if local.tzinfo is not None:
        return local.astimezone(UTC)
    first = local.replace(tzinfo=zone, fold=0).astimezone(UTC)
    if first.astimezone(zone).replace(tzinfo=None) != local:
        return None
    second = local.replace(tzinfo=zone, fold=1).astimezone(UTC)
    return second if after is not None and first <= after and second != first else first


def range_problem(value: float, unit: ReadingUnit, kind: InstrumentKind) -> str | None:
    """Why a value can't be what its unit says, with the cure; None when it can.

    Only values that no instrument can print are refused; doubtful ones come in and are
    flagged. A tensiometer in frost or a leaking one may read a little below zero.
    """
    core = float(to_core(value, unit))
    facts = kinds()[kind]
    if facts.quantity == "theta":
        if 0 <= core <= 1:
            return None
        if unit is ReadingUnit.FRACTION and 1 < value <= 100:
            return (
                f"{value:g} is not a fraction of volume. If the logger writes percent, choose "
                "percent as the unit of this file."
            )
        return f"{value:g} {unit} can't be a water content. Check the column and the unit."
    if -20 <= core <= 2000:
        return None
    return f"{value:g} {unit} can't be a soil-water tension. Check the column and the unit."


def read_logger_file(
    data: bytes, unit: ReadingUnit, kind: InstrumentKind, zone: ZoneInfo, now: datetime
) -> LoggerTable:
    """A whole file as readings, or every problem in it.

    Parameters
    ----------
    data : bytes
    unit : ReadingUnit
        Of every value in the file.
    kind : InstrumentKind
    zone : ZoneInfo
        For times without an offset.
    now : datetime
        Later readings are refused.

    Raises
    ------
    Refused
        With row, column and cure of each problem; nothing is imported then.
    """
    text = read_text(data)
    delimiter = delimiter_of(
        next(line for line in text.split("\n") if line.strip()), "time,10 cm,20 cm,30 cm"
    )
    rows = read_rows(text, delimiter)
    if not rows:
        raise Refused("The file holds no table. Export it again from the logger.")
    problems = FileProblems()
    first, heading = rows[0]
    depths = _depths(heading, first, problems)
    if not depths:
        problems.add(first, heading[0], "There is no column of values beside the time.")
    seen: dict[datetime, int] = {}
    readings: list[FileReading] = []
    gaps = count = 0
    before: datetime | None = None
    for number, cells in rows[1:]:
        count += 1
        local = _parse_time(cells[0])
        if local is None:
            problems.add(
                number,
                heading[0],
                f"'{cells[0][:40]}' is not a time. Write it like 2026-07-14 06:15.",
            )
            continue
        instant = to_instant(local, zone, before)
        if instant is None:
            problems.add(
                number,
                heading[0],
                f"{cells[0]} does not exist in {zone.key}: the clocks went forward. Export the "
                "file in UTC with an offset, e.g. 2026-03-29T02:30:00+00:00.",
            )
            continue
        if instant > now:
            problems.add(
                number,
                heading[0],
                f"{cells[0]} lies in the future. Check the logger's clock and the date order.",
            )
            continue
        if instant in seen:
            problems.add(
                number,
                heading[0],
                f"{cells[0]} stands already in row {seen[instant]}. Remove one of the two rows.",
            )
            continue
        seen[instant] = number
        before = instant
        if len(cells) > len(depths) + 1 and any(c.strip() for c in cells[len(depths) + 1 :]):
            problems.add(
                number,
                f"column {len(depths) + 2}",
                f"The row has {len(cells)} cells but the heading {len(depths) + 1}.",
            )
            continue
        for i, depth in enumerate(depths):
            cell = cells[i + 1] if i + 1 < len(cells) else ""
            if cell.strip().lower() in MISSING:
                gaps += 1
                continue
            value = cell_number(cell, decimal_comma=delimiter != ",")
            wrong = (
                f"'{cell.strip()[:40]}' is not a number. Leave the cell empty where there is "
                "no reading."
                if value is None
                else range_problem(value, unit, kind)
            )
            if wrong is not None:
                problems.add(number, heading[i + 1].strip(), wrong)
            elif depth is not None and value is not None:
                readings.append(FileReading(depth_mm=depth, time=instant, value=value))
    if problems.found:
        raise problems.refuse()
    if not readings:
        raise Refused("The file holds no readings: every cell below the heading is empty.")
    return LoggerTable(
        depths_mm=tuple(d for d in depths if d is not None),
        readings=tuple(readings),
        gaps=gaps,
        rows=count,
    )
