"""What the columns of a station's sheet hold, by their headings, and what their values may be."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from core.sentence import sentence
from core.weather.atmosphere import wind_at_2_m
from server.files.table_file import MISSING, FileProblems, cell_number

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
    ("wind_m_s", r"wind(?! ?dir)|u ?2|ws\b"),
    ("rain_mm", r"rain|precip|prcp"),
)
_HOURLY_NAMES = (("t_c", r"t\b|ta\b|air ?t|temp|t ?(air|mean|avg)"),)
_TIME_OF_DAY = re.compile(r"\s*(time|hour|clock)", re.IGNORECASE)
# What a sheet of hours may hold.
_OF_HOURS = frozenset(
    {"date", "t_c", "dew_c", "rh_mean", "solar_mj", "wind_m_s", "rain_mm", "et0_mm"}
)
RANGE: dict[str, tuple[float, float]] = {
    "et0_mm": (0, 20),
    "t_c": (-60, 60),
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
# An hour brings no more than this: the sun above the air 4.9 MJ/m2, a cloudburst.
HOUR_RANGE: dict[str, tuple[float, float]] = {
    **RANGE,
    "solar_mj": (-0.1, 5.5),
    "rain_mm": (0, 200),
    "et0_mm": (-0.3, 2),
}
_WATTS = 0.0864  # W/m2 over a day to MJ/m2
_WATTS_HOUR = 0.0036  # and over an hour


@dataclass(frozen=True)
class Column:
    """What a column holds; ``scale`` and ``shift`` turn its unit into ours.

    heading : the column's own, as the file has it
    watts : whether it is power, a mean over the row's step, and not a sum
    """

    name: str
    scale: float = 1.0
    shift: float = 0.0
    watts: bool = False
    heading: str = ""


def _column(heading: str, hourly: bool) -> Column | None:
    text = heading.strip().lower()
    plain = " ".join(re.sub(r"[\[\](){}_.]", " ", text).split())
    names = (*_NAMES, *_HOURLY_NAMES) if hourly else _NAMES
    name = next((n for n, pattern in names if re.match(rf"\s*({pattern})", plain)), None)
    if name is None or (hourly and name not in _OF_HOURS):
        return None
    if name.endswith("_c") and re.search(r"(°|deg|\b|_)f\b", plain):
        return Column(name, 5 / 9, -160 / 9)
    if name in ("rain_mm", "et0_mm") and re.search(r"\b(in|inch|inches)\b", plain):
        return Column(name, 25.4)
    if name == "solar_mj" and re.search(r"\bw(att)?s?\b|w/m", plain):
        return Column(name, _WATTS_HOUR if hourly else _WATTS, watts=True)
    if name == "wind_m_s":
        scale = 1.0
        if re.search(r"km|kph", plain):
            scale = 1 / 3.6
        elif "mph" in plain or "mi/h" in plain:
            scale = 0.44704
        height = re.search(r"(\d+(?:\.\d+)?)\s*m\b(?!\s*/)", plain.replace("m/s", ""))
        if height and float(height.group(1)) > 2:
            scale *= float(wind_at_2_m(1.0, float(height.group(1))))
        return Column(name, scale)
    return Column(name)


def columns_of(headings: Sequence[str], hourly: bool) -> list[Column | None]:
    """What each column holds; None where it is not used.

    ``hourly`` : whether rows follow each other by the hour or faster
    """
    found = [replace(c, heading=h.strip()) if (c := _column(h, hourly)) else None for h in headings]
    at = time_of_day(headings)
    if at is not None:
        found[at] = None
    return found


def headings_of(columns: Sequence[Column | None]) -> dict[str, str]:
    """The headings of the columns by what they hold."""
    return {c.name: c.heading for c in columns if c}


def time_of_day(headings: Sequence[str]) -> int | None:
    """The column that holds the time of day beside one with the date; None without one."""
    dates = [i for i, h in enumerate(headings) if (c := _column(h, False)) and c.name == "date"]
    clocks = [i for i in dates if _TIME_OF_DAY.match(headings[i])]
    return clocks[0] if clocks and len(dates) == 2 else None


def cell_values(
    cells: Sequence[str],
    columns: Sequence[Column | None],
    comma: bool,
    row: int,
    wrong: FileProblems,
    step_h: float | None = None,
) -> dict[str, float]:
    """Values of a row in our units, those that can't be reported.

    Parameters
    ----------
    cells : sequence of str; columns : what each holds
    comma : whether decimals have a comma
    row : int, its number in the file
    wrong : FileProblems, added to
    step_h : float, optional
        Between rows, where they are hours or less: then sums of radiation are those of an hour.
    """
    values: dict[str, float] = {}
    for cell, column in zip(cells, columns, strict=False):
        if column is None or column.name == "date" or cell.strip().lower() in MISSING:
            continue
        number = cell_number(cell, comma)
        if number is None:
            wrong.add(
                row, column.name, sentence("“{cell}” is not a number.", cell=cell.strip()[:30])
            )
            continue
        value = number * column.scale + column.shift
        if step_h is not None and column.name == "solar_mj" and not column.watts:
            value /= step_h
        low, high = (RANGE if step_h is None else HOUR_RANGE)[column.name]
        if not low <= value <= high:
            wrong.add(
                row,
                column.name,
                sentence(
                    "{number:g} is not possible: {value:.4g} is outside {low} to {high}.",
                    number=number,
                    value=value,
                    low=low,
                    high=high,
                ),
            )
            continue
        values[column.name] = round(value, 4)
    return values
