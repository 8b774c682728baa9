"""A weather station's sheet: a row a day or an hour, columns in any order, units in the heading."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from core.sentence import sentence
from core.weather.station import Station
from server.files.table_file import FileProblems, delimiter_of, read_rows, read_text
from server.weather.hourly_file import Stamp, is_hourly, read_hours
from server.weather.station_columns import (
    Column,
    cell_values,
    columns_of,
    headings_of,
    time_of_day,
)
from server.weather.station_day import StationDay

EXAMPLE = "date,tmin C,tmax C,rh max,rh min,wind m/s,solar MJ/m2,rain mm"
_DATES = ("%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%Y/%m/%d", "%Y%m%d")

Rows = Sequence[tuple[int, list[str]]]


@dataclass
class StationSheet:
    """The days of a sheet, rising, with the columns used and not used.

    step_minutes : between rows of a sheet of hours; None where each row is a day
    incomplete : days left out since hours of them are missing
    """

    days: list[StationDay] = field(default_factory=list)
    columns: list[str] = field(default_factory=list)
    ignored: list[str] = field(default_factory=list)
    step_minutes: int | None = None
    incomplete: list[date] = field(default_factory=list)


def _date(cell: str) -> date | None:
    text = cell.strip().split("T")[0].split(" ")[0]
    for form in _DATES:
        try:
            return datetime.strptime(text, form).date()
        except ValueError:
            continue
    return None


def _check_columns(columns: Sequence[Column | None], example: str) -> None:
    """Refuse a heading without a date, with two columns of one kind, or with dates alone."""
    wrong = FileProblems()
    names = [c.name for c in columns if c]
    if "date" not in names:
        wrong.add(
            1,
            "date",
            sentence(
                "No column holds the date. Expected a heading such as '{example}'.", example=example
            ),
        )
        raise wrong.refuse()
    for name in sorted({n for n in names if names.count(n) > 1}):
        one, other = [c.heading for c in columns if c and c.name == name][:2]
        wrong.add(
            1,
            other,
            sentence(
                "Two columns hold the same value, this one and “{one}”; leave one out.", one=one
            ),
        )
    if len(set(names)) < 2:
        wrong.add(
            1,
            "",
            sentence(
                "There are only dates. Expected a heading such as '{example}'.", example=example
            ),
        )
    if wrong.found:
        raise wrong.refuse()


def read_station_file(
    data: bytes, now: datetime, stamp: Stamp = Stamp.END, station: Station | None = None
) -> StationSheet:
    """Days of a station's sheet.

    Parameters
    ----------
    data : bytes
        CSV or tab-separated text with a heading; dates as 2026-07-14, 14.07.2026 or 14/07/2026,
        with a time where rows are hours or less.
    now : datetime
        Aware, in the farm's time zone. Days from today on are refused; of hours the days that
        are over are kept.
    stamp : Stamp
        What the times of hours mark.
    station : Station, optional
        Where it stands, for reference ET by the hour.

    Raises
    ------
    RequestError
        Naming every row and value to mend.
    """
    text = read_text(data)
    delimiter = delimiter_of(text.split("\n")[0], EXAMPLE)
    rows = read_rows(text, delimiter)
    heading, body = rows[0][1], rows[1:]
    stamps = _stamps(heading, body)
    hourly = is_hourly(stamps)
    columns = columns_of(heading, hourly)
    _check_columns(columns, EXAMPLE)
    comma = delimiter != "," and any("," in c for _, cells in body for c in cells)
    clock = time_of_day(heading)
    sheet = StationSheet(
        columns=[h.strip() for i, h in enumerate(heading) if columns[i] is not None or i == clock],
        ignored=[h.strip() for i, h in enumerate(heading) if columns[i] is None and i != clock],
    )
    if hourly:
        found = read_hours(body, stamps, columns, comma, now, stamp, station)
        sheet.days, sheet.incomplete = found.days, found.incomplete
        sheet.step_minutes = found.step_minutes
    else:
        sheet.days = _days(body, stamps, columns, comma, now.date() - timedelta(days=1))
    return sheet


def _stamps(heading: Sequence[str], rows: Rows) -> list[str]:
    """The date of each row, with its time where that has a column of its own."""
    columns, clock = columns_of(heading, False), time_of_day(heading)
    at = next((i for i, c in enumerate(columns) if c and c.name == "date"), None)
    if at is None:
        return [""] * len(rows)

    def cell(cells: Sequence[str], i: int | None) -> str:
        return cells[i].strip() if i is not None and i < len(cells) else ""

    return [f"{cell(cells, at)} {cell(cells, clock)}".strip() for _, cells in rows]


def _days(
    rows: Rows,
    stamps: Sequence[str],
    columns: Sequence[Column | None],
    comma: bool,
    last: date,
) -> list[StationDay]:
    """Days of a sheet with a row each."""
    wrong, out = FileProblems(headings_of(columns)), []
    seen: dict[date, int] = {}
    for (row, cells), stamp in zip(rows, stamps, strict=True):
        on = _date(stamp)
        if on is None:
            wrong.add(
                row,
                "date",
                sentence("“{stamp}” is not a date such as 2026-07-14.", stamp=stamp[:30]),
            )
            continue
        if on > last:
            wrong.add(row, "date", sentence("{on} is in the future.", on=on))
            continue
        if on in seen:
            wrong.add(row, "date", sentence("{on} is in row {row} as well.", on=on, row=seen[on]))
            continue
        seen[on] = row
        values = cell_values(cells, columns, comma, row, wrong)
        low_c, high_c = values.get("t_min_c"), values.get("t_max_c")
        if low_c is not None and high_c is not None and low_c > high_c:
            wrong.add(
                row,
                "t_min_c",
                sentence(
                    "The lowest, {low_c:g}, is above the highest, {high_c:g}.",
                    low_c=low_c,
                    high_c=high_c,
                ),
            )
        if values:
            out.append(StationDay(on, values))
    if wrong.found:
        raise wrong.refuse()
    return sorted(out, key=lambda d: d.on)
