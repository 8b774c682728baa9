"""A weather station's sheet of hours, or of shorter steps: days out of its rows."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl

from core.arrays import Floats
from core.sentence import sentence
from core.weather.by_hour import Samples, days_by_hour
from core.weather.station import Station
from server.base.errors import RequestError
from server.files.table_file import FileProblems
from server.files.times import (
    FARM_CLOCK,
    NO_TIME,
    SKIPPED_HOUR,
    Folds,
    likely_order,
    to_instants,
    written_times,
)
from server.weather.station_columns import Column, cell_values, headings_of
from server.weather.station_day import StationDay

HOUR_US = 3_600_000_000
LONGEST_STEP_H = 1.0
BY_HOURS = "Penman-Monteith by the hour"
OWN_HOURS = "sum of the station's own hours"
# What a day of hours tells, as the days of a sheet have it.
_MEAN_OF = (
    "t_min_c",
    "t_max_c",
    "dew_c",
    "rh_min",
    "rh_max",
    "solar_mj",
    "wind_m_s",
    "rain_mm",
    "et0_mm",
)


class Stamp(StrEnum):
    """What the time of a row marks."""

    END = "end"
    START = "start"


@dataclass(frozen=True)
class HourlySheet:
    """Whole days of a sheet, the minutes between its rows, and the days that lack hours."""

    days: list[StationDay]
    step_minutes: int
    incomplete: list[date]


def is_hourly(stamps: Sequence[str]) -> bool:
    """Whether rows follow each other faster than by the day."""
    order = likely_order(list(stamps[:200]))
    if order is None:
        return False
    local, _ = written_times(pl.Series(list(stamps), dtype=pl.String), order)
    known = np.unique(local[local != NO_TIME])
    return known.size > 1 and float(np.median(np.diff(known))) <= LONGEST_STEP_H * HOUR_US


def read_hours(
    rows: Sequence[tuple[int, list[str]]],
    stamps: Sequence[str],
    columns: Sequence[Column | None],
    comma: bool,
    now: datetime,
    stamp: Stamp,
    station: Station | None,
) -> HourlySheet:
    """Days out of rows of an hour or less.

    Parameters
    ----------
    rows : sequence of (number in the file, cells)
    stamps : sequence of str, the time of each row, by the farm's clock unless it says otherwise
    columns : sequence, what each cell of a row holds
    comma : whether decimals have a comma
    now : aware, in the farm's time zone; what lies after it is refused
    stamp : what the times mark
    station : where it stands

    Raises
    ------
    RequestError
        Naming every row and value to mend.
    """
    wrong = FileProblems(headings_of(columns))
    zone = str(now.tzinfo)
    at = _instants(rows, stamps, zone, now, wrong)
    if wrong.found:
        raise wrong.refuse()
    order = np.argsort(at, kind="stable")
    twice = order[1:][np.diff(at[order]) == 0]
    for k in twice.tolist():
        wrong.add(
            rows[k][0],
            "date",
            sentence("“{stamp}” is in another row as well.", stamp=stamps[k].strip()[:30]),
        )
    step_h = float(np.median(np.diff(at[order]))) / HOUR_US
    values = {name: np.full(len(rows), np.nan) for name in _names(columns)}
    for k, (row, cells) in enumerate(rows):
        for name, value in cell_values(cells, columns, comma, row, wrong, step_h).items():
            values[name][k] = value
    if wrong.found:
        raise wrong.refuse()
    middle = at / HOUR_US + (-step_h / 2 if stamp is Stamp.END else step_h / 2)
    begun = [d for d in _local_days(middle[order], zone) if d <= now.date()]
    bounds = [_midnight(d, zone) for d in (*begun, begun[-1] + timedelta(days=1))]
    return _days(_samples(values, middle, order), begun, bounds, now.date(), step_h, station)


def _instants(
    rows: Sequence[tuple[int, list[str]]],
    stamps: Sequence[str],
    zone: str,
    now: datetime,
    wrong: FileProblems,
) -> np.ndarray:
    """The instant of each row [epoch microseconds]."""
    order = likely_order(list(stamps[:200]))
    if order is None:
        raise RequestError(sentence("The times of the rows can't be read."))
    local, offset = written_times(pl.Series(list(stamps), dtype=pl.String), order)
    at = to_instants(local, offset, FARM_CLOCK, zone, np.zeros(len(rows), int), Folds())
    # The hour that a clock skipped in spring was never there to be measured: a logger that knows
    # no summer time says so in its heading, or should be exported with it.
    latest = now.timestamp() * 1e6
    for k in np.flatnonzero((at == NO_TIME) | (at == SKIPPED_HOUR) | (at > latest)).tolist():
        typed = stamps[k].strip()[:30]
        if at[k] == NO_TIME:
            wrong.add(
                rows[k][0],
                "date",
                sentence("“{typed}” is not a time such as 2026-07-14 06:00.", typed=typed),
            )
        elif at[k] == SKIPPED_HOUR:
            message = sentence(
                "“{typed}” does not exist in the farm's time zone; export the file with its "
                "offset.",
                typed=typed,
            )
            wrong.add(rows[k][0], "date", message)
        else:
            wrong.add(rows[k][0], "date", sentence("“{typed}” is in the future.", typed=typed))
    return at


def _names(columns: Sequence[Column | None]) -> set[str]:
    return {c.name for c in columns if c}


def _local_days(middle_h: Floats, zone: str) -> list[date]:
    """The local days from the first to the last, none left out."""
    first, last = (
        datetime.fromtimestamp(float(h) * 3600, UTC).astimezone(ZoneInfo(zone)).date()
        for h in (middle_h[0], middle_h[-1])
    )
    return [first + timedelta(days=k) for k in range((last - first).days + 1)]


def _midnight(day: date, zone: str) -> float:
    """When a local day begins [hours since 1970, UTC]."""
    return datetime.combine(day, time(), tzinfo=ZoneInfo(zone)).timestamp() / 3600


def _samples(values: dict[str, Floats], middle_h: Floats, order: np.ndarray) -> Samples:
    def column(name: str) -> Floats:
        return values.get(name, np.full(middle_h.size, np.nan))[order]

    return Samples(
        middle_h=middle_h[order],
        temperature_c=column("t_c"),
        dew_c=column("dew_c"),
        rh=column("rh_mean"),
        solar_mj_h=column("solar_mj"),
        wind_m_s=column("wind_m_s"),
        rain_mm=column("rain_mm"),
        et0_mm=column("et0_mm"),
    )


def _days(
    samples: Samples,
    days: list[date],
    bounds_h: list[float],
    today: date,
    step_h: float,
    station: Station | None,
) -> HourlySheet:
    """Whole days as a sheet of days would tell them; today is not over."""
    inside = (samples.middle_h >= bounds_h[0]) & (samples.middle_h < bounds_h[-1])
    kept = Samples(**{name: x[inside] for name, x in vars(samples).items()})
    found = days_by_hour(kept, np.array(bounds_h), station)
    out, incomplete = [], []
    for k, on in enumerate(days):
        if on >= today:
            continue
        if not found.whole[k]:
            incomplete.append(on)
            continue
        means = {name: float(getattr(found, name)[k]) for name in _MEAN_OF}
        values = {name: round(x, 4) for name, x in means.items() if not np.isnan(x)}
        method = OWN_HOURS if found.as_given[k] else BY_HOURS
        out.append(StationDay(on, values, method if "et0_mm" in values else ""))
    return HourlySheet(out, round(step_h * 60), incomplete)
