"""A weather station's sheet: one row a day, columns in any order, units in the heading."""

import re
from dataclasses import dataclass, field
from datetime import date, datetime

from core.weather.atmosphere import wind_at_2_m
from server.table_file import (
    MISSING,
    FileProblems,
    cell_number,
    delimiter_of,
    read_rows,
    read_text,
)

EXAMPLE = "date,tmin C,tmax C,rh max,rh min,wind m/s,solar MJ/m2,rain mm"
# What a column may be called; the first pattern that fits names it.
_NAMES: tuple[tuple[str, str], ...] = (
    ("date", r"date|day|datum|time"),
    ("et0_mm", r"et ?0|eto|et ?ref|reference et"),
    ("t_min_c", r"t ?min|min.*temp|temp.*min|tn\b|lowest"),
    ("t_max_c", r"t ?max|max.*temp|temp.*max|tx\b|highest"),
    ("dew_c", r"dew|t ?dew"),
    ("rh_min", r"rh ?min|min.*(rh|humid)|humid.*min"),
    ("rh_max", r"rh ?max|max.*(rh|humid)|humid.*max"),
    ("rh_mean", r"rh|.*humid"),
    ("sunshine_h", r"sunshine|sun hours|bright"),
    ("solar_mj", r"solar|radiation|rs\b|srad|global"),
    ("wind_m_s", r"wind|u ?2|ws\b"),
    ("rain_mm", r"rain|precip|prcp"),
)
RANGE: dict[str, tuple[float, float]] = {
    "et0_mm": (0, 20),
    "t_min_c": (-60, 60),
    "t_max_c": (-60, 60),
    "dew_c": (-60, 40),
    "rh_min": (0, 105),
    "rh_max": (0, 105),
    "rh_mean": (0, 105),
    "sunshine_h": (0, 24),
    "solar_mj": (0, 45),
    "wind_m_s": (0, 50),
    "rain_mm": (0, 500),
}
_DATES = ("%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%Y/%m/%d", "%Y%m%d")
_WATTS = 0.0864  # W/m2 over a day to MJ/m2


@dataclass(frozen=True)
class StationDay:
    """One day as the station told it; what it did not measure is not among the values."""

    on: date
    values: dict[str, float]


@dataclass
class StationSheet:
    """The days of a sheet, rising, with the columns used and not used."""

    days: list[StationDay] = field(default_factory=list)
    columns: list[str] = field(default_factory=list)
    ignored: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class _Column:
    """What a column holds; ``scale`` and ``shift`` turn its unit into ours."""

    name: str
    scale: float = 1.0
    shift: float = 0.0


def _column(heading: str) -> _Column | None:
    text = heading.strip().lower()
    plain = " ".join(re.sub(r"[\[\](){}_.]", " ", text).split())
    name = next((n for n, pattern in _NAMES if re.match(rf"\s*({pattern})", plain)), None)
    if name is None:
        return None
    if name.endswith("_c") and re.search(r"(°|deg|\b|_)f\b", plain):
        return _Column(name, 5 / 9, -160 / 9)
    if name in ("rain_mm", "et0_mm") and re.search(r"\b(in|inch|inches)\b", plain):
        return _Column(name, 25.4)
    if name == "solar_mj" and re.search(r"\bw(att)?s?\b|w/m", plain):
        return _Column(name, _WATTS)
    if name == "wind_m_s":
        scale = 1.0
        if re.search(r"km|kph", plain):
            scale = 1 / 3.6
        elif "mph" in plain or "mi/h" in plain:
            scale = 0.44704
        height = re.search(r"(\d+(?:\.\d+)?)\s*m\b(?!\s*/)", plain.replace("m/s", ""))
        if height and float(height.group(1)) > 2:
            scale *= float(wind_at_2_m(1.0, float(height.group(1))))
        return _Column(name, scale)
    return _Column(name)


def _date(cell: str) -> date | None:
    text = cell.strip().split("T")[0].split(" ")[0]
    for form in _DATES:
        try:
            return datetime.strptime(text, form).date()
        except ValueError:
            continue
    return None


def _values(
    cells: list[str], columns: list[_Column | None], comma: bool, row: int, wrong: FileProblems
) -> dict[str, float]:
    values: dict[str, float] = {}
    for cell, column in zip(cells, columns, strict=False):
        if column is None or column.name == "date" or cell.strip().lower() in MISSING:
            continue
        number = cell_number(cell, comma)
        if number is None:
            wrong.add(row, column.name, f"“{cell.strip()[:30]}” is not a number.")
            continue
        value = number * column.scale + column.shift
        low, high = RANGE[column.name]
        if not low <= value <= high:
            wrong.add(
                row, column.name, f"{number:g} can't be: it comes to {value:.4g}, not {low}-{high}."
            )
            continue
        values[column.name] = round(value, 4)
    low_c, high_c = values.get("t_min_c"), values.get("t_max_c")
    if low_c is not None and high_c is not None and low_c > high_c:
        wrong.add(row, "t_min_c", f"The lowest, {low_c:g}, lies above the highest, {high_c:g}.")
    return values


def read_station_file(data: bytes, today: date) -> StationSheet:
    """Days of a station's sheet.

    Parameters
    ----------
    data : bytes
        CSV or tab-separated text with a heading; dates as 2026-07-14, 14.07.2026 or 14/07/2026.
    today : date
        Days after it are refused.

    Raises
    ------
    Refused
        Naming every row and value to mend.
    """
    text = read_text(data)
    lines = text.split("\n")
    delimiter = delimiter_of(lines[0], EXAMPLE)
    rows = read_rows(text, delimiter)
    heading = rows[0][1]
    columns = [_column(h) for h in heading]
    wrong = FileProblems()
    names = [c.name for c in columns if c]
    if "date" not in names:
        wrong.add(1, "date", f"No column holds the date. Expected a heading such as '{EXAMPLE}'.")
        raise wrong.refuse()
    twice = {n for n in names if names.count(n) > 1}
    for name in sorted(twice):
        wrong.add(1, name, "Two columns hold the same; leave one out.")
    if len(set(names)) < 2:
        wrong.add(1, "", f"Nothing but dates. Expected a heading such as '{EXAMPLE}'.")
    if wrong.found:
        raise wrong.refuse()
    comma = delimiter != "," and any("," in c for _, cells in rows[1:] for c in cells)
    sheet = StationSheet(
        columns=[h.strip() for h, c in zip(heading, columns, strict=True) if c],
        ignored=[h.strip() for h, c in zip(heading, columns, strict=True) if not c],
    )
    at = next(i for i, c in enumerate(columns) if c and c.name == "date")
    seen: dict[date, int] = {}
    for row, cells in rows[1:]:
        cell = cells[at] if at < len(cells) else ""
        on = _date(cell)
        if on is None:
            wrong.add(row, "date", f"“{cell.strip()[:30]}” is not a date such as 2026-07-14.")
            continue
        if on > today:
            wrong.add(row, "date", f"{on} lies in the future.")
            continue
        if on in seen:
            wrong.add(row, "date", f"{on} stands in row {seen[on]} as well.")
            continue
        seen[on] = row
        values = _values(cells, columns, comma, row, wrong)
        if values:
            sheet.days.append(StationDay(on, values))
    if wrong.found:
        raise wrong.refuse()
    sheet.days.sort(key=lambda d: d.on)
    return sheet
