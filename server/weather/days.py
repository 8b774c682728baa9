"""Days of weather on record: entered, imported, reference ET worked out, readings judged again."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from zoneinfo import ZoneInfo

import numpy as np
from procrastinate.contrib.django import app

from core.sentence import sentence
from core.weather.filling import Filled
from core.weather.reference_et import daily_et
from core.weather.station import DailyWeather, Station, day_of_year
from server.base.errors import Problem, RequestError
from server.base.retrying import retried
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.instruments.models import Channel
from server.readings.around_water import AFTER, BEFORE, judge_around_water
from server.weather.models import WeatherDay
from server.weather.station_day import StationDay

BY_HAND = "entered by hand"
BY_GAUGE = "rain gauge, by hand"
AS_GIVEN = "as given"
OLDEST_DAYS = 3660
# What is judged again within a second.
AT_ONCE_CHANNEL_DAYS = 900
_MEASURED = ("dew_c", "rh_min", "rh_max", "rh_mean", "solar_mj", "sunshine_h", "wind_m_s")
_FILLED_WORDS = {
    Filled.HUMIDITY: "humidity from the night's lowest temperature",
    Filled.SUNSHINE: "radiation from sunshine hours",
    Filled.RADIATION: "radiation from the temperature range",
    Filled.WIND: "wind 2 m/s",
}


@dataclass(frozen=True)
class DaysStored:
    """How many days are new and changed, and how many have a reference ET now."""

    new: int
    changed: int
    unchanged: int
    with_et: int


def station_of(farm: Farm) -> Station | None:
    """The farm's weather station; None where its place is not known."""
    if farm.latitude is None or farm.longitude is None or farm.elevation_m is None:
        return None
    return Station(farm.latitude, farm.longitude, farm.elevation_m)


def worked_out(
    days: Sequence[StationDay], station: Station | None
) -> list[tuple[float | None, str]]:
    """Reference ET of days [mm], and how it was found.

    What the sheet itself calls reference ET is taken as it stands; the rest by FAO-56
    Penman-Monteith with its own procedures for what is missing, or Hargreaves-Samani where
    there are temperatures alone. None where there is not even that, or no station.
    """
    out: list[tuple[float | None, str]] = [(None, "") for _ in days]
    open_ = []
    for i, d in enumerate(days):
        if "et0_mm" in d.values:
            out[i] = (d.values["et0_mm"], d.et_method or AS_GIVEN)
        elif station is not None and {"t_min_c", "t_max_c"} <= d.values.keys():
            open_.append(i)
    if not open_ or station is None:
        return out

    def column(name: str) -> np.ndarray:
        return np.array([days[i].values.get(name, np.nan) for i in open_])

    found = daily_et(
        DailyWeather(
            day_of_year=day_of_year([days[i].on for i in open_]),
            t_min_c=column("t_min_c"),
            t_max_c=column("t_max_c"),
            **{name: column(name) for name in _MEASURED},
        ),
        station,
    )
    for k, i in enumerate(open_):
        if np.isnan(found.et_mm[k]):
            continue
        words = "Hargreaves-Samani" if found.hargreaves[k] else "Penman-Monteith"
        gaps = [w for bit, w in _FILLED_WORDS.items() if int(found.filled[k]) & bit]
        out[i] = (round(float(found.et_mm[k]), 2), "; ".join([words, *gaps])[:120])
    return out


def _merged(row: WeatherDay, given: StationDay, et: tuple[float | None, str], source: str) -> bool:
    """Put what was told into a row; whether it says anything new."""
    before = (row.et0_mm, row.t_min_c, row.t_max_c, row.rain_mm, row.measured)
    values = given.values
    if et[0] is not None:
        row.et0_mm, row.et_method = et
    row.t_min_c = values.get("t_min_c", row.t_min_c)
    row.t_max_c = values.get("t_max_c", row.t_max_c)
    row.rain_mm = values.get("rain_mm", row.rain_mm)
    row.measured = {**row.measured, **{k: v for k, v in values.items() if k in _MEASURED}}
    changed = before != (row.et0_mm, row.t_min_c, row.t_max_c, row.rain_mm, row.measured)
    if changed:
        row.source = source[:80]
    return changed


@retried
def store_days(
    farm: Farm, days: Sequence[StationDay], source: str, dry_run: bool = False
) -> DaysStored:
    """Put days on record; what a day does not tell stays as it was. Or only count what would be."""
    rows = {
        r.date: r for r in WeatherDay.objects.for_farm(farm).filter(date__in=[d.on for d in days])
    }
    found = worked_out(days, station_of(farm))
    new = changed = with_et = 0
    touched: list[date] = []
    for given, et in zip(days, found, strict=True):
        row = rows.get(given.on)
        fresh = row is None
        row = row or WeatherDay(farm=farm, date=given.on, source=source)
        rain_before = row.rain_mm
        if _merged(row, given, et, source):
            if not dry_run:
                row.save()
            new, changed = new + fresh, changed + (not fresh)
            if row.rain_mm != rain_before and not dry_run:
                touched.append(given.on)
        with_et += row.et0_mm is not None
    judge_days(farm, touched)
    return DaysStored(new, changed, len(days) - new - changed, with_et)


def judge_days(farm: Farm, days: Sequence[date]) -> None:
    """Judge the readings after days whose rain is another now: a rise may have its reason.

    Much is left to a worker: neither a sheet of years nor a large farm is a reason to wait.
    """
    if not days:
        return
    first, last = min(days), max(days)
    reach = last - first + BEFORE + AFTER
    if reach.days * Channel.objects.for_farm(farm).count() > AT_ONCE_CHANNEL_DAYS:
        app.configure_task("weather.judge_days").defer(
            farm_id=farm.pk, first=first.isoformat(), last=last.isoformat()
        )
    else:
        judge_stretch(farm, first, last)


def judge_stretch(farm: Farm, first_day: date, last_day: date) -> None:
    """Judge the readings of days again, with those that their water still reaches."""
    zone = ZoneInfo(farm.time_zone)
    first, last = (datetime.combine(day, time(), tzinfo=zone) for day in (first_day, last_day))
    judge_around_water(farm, first, last)


@acting(Action.RECORD_READINGS)
def set_rain(access: Access, on: date, rain_mm: float | None) -> WeatherDay:
    """The rain of a day by the farm's gauge; none takes the figure away.

    Raises
    ------
    RequestError
    """
    today = access.now().date()
    if on > today or (today - on).days > OLDEST_DAYS:
        raise RequestError(
            sentence("The rain was not saved."),
            (
                Problem(
                    field="date",
                    message=sentence("{on} is in the future or more than ten years ago.", on=on),
                ),
            ),
        )
    row = WeatherDay.objects.for_farm(access.farm).select_for_update().filter(date=on).first()
    row = row or WeatherDay(farm=access.farm, date=on, source=BY_GAUGE)
    rain_before, row.rain_mm = row.rain_mm, rain_mm
    row.save()
    if row.rain_mm != rain_before:
        judge_days(access.farm, [on])
    record(access, Done.RAIN_ENTERED, on.isoformat())
    return row


@acting(Action.RECORD_WEATHER)
def set_day(access: Access, given: StationDay) -> WeatherDay:
    """A day's weather by hand; what is not among the values becomes unknown.

    Raises
    ------
    RequestError
    """
    today = access.now().date()
    if given.on >= today or (today - given.on).days > OLDEST_DAYS:
        raise RequestError(
            sentence("The day was not saved."),
            (
                Problem(
                    field="date",
                    message=sentence(
                        "{on} is not over yet, or more than ten years ago.", on=given.on
                    ),
                ),
            ),
        )
    low, high = given.values.get("t_min_c"), given.values.get("t_max_c")
    if low is not None and high is not None and low > high:
        raise RequestError(
            sentence("The day was not saved."),
            (Problem(field="t_min_c", message=sentence("The lowest is above the highest.")),),
        )
    found: WeatherDay | None = (
        WeatherDay.objects.for_farm(access.farm).select_for_update().filter(date=given.on).first()
    )
    row = found or WeatherDay(farm=access.farm, date=given.on)
    rain_before = row.rain_mm
    ((row.et0_mm, row.et_method),) = worked_out([given], station_of(access.farm))
    row.t_min_c, row.t_max_c, row.rain_mm = low, high, given.values.get("rain_mm")
    row.measured = {k: v for k, v in given.values.items() if k in _MEASURED}
    row.source = BY_HAND
    row.save()
    if row.rain_mm != rain_before:
        judge_days(access.farm, [given.on])
    record(access, Done.WEATHER_ENTERED, given.on.isoformat())
    return row
