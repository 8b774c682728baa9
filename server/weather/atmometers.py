"""Reference ET of days from the farm's atmometers, where no station tells it better."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.db import transaction

from core.arrays import Floats
from core.instrument.kinds import InstrumentKind, kinds
from core.quality.flags import doubted
from core.weather.atmometer import falls_of_level, spread_over_days
from server.farms.models import Farm
from server.instruments.models import Channel
from server.readings.recent import Thinned, thinned_readings
from server.weather.days import station_of, worked_out
from server.weather.models import WeatherDay
from server.weather.station_day import StationDay

BACK_DAYS = 45
MOST_MM = 20.0
METHOD = "atmometer"
TO_GRASS = "to_grass"
# The levels before and after a refill are written down within minutes of each other.
_BUCKET_HOURS = 1 / 60


@dataclass(frozen=True)
class Stretch:
    """The days asked: their first, and ET by temperature of each, NaN where unknown."""

    first: date
    by_temperature: Floats
    zone: ZoneInfo

    def place(self, at: datetime) -> float:
        """Days from the first day's midnight; an hour of a day of 25 is a 25th of it, so that
        time never runs back."""
        on = at.astimezone(self.zone).date()
        begins, ends = (
            datetime.combine(on + timedelta(days=k), time(), tzinfo=self.zone).timestamp()
            for k in (0, 1)
        )
        return (on - self.first).days + (at.timestamp() - begins) / (ends - begins)


def _et_of(channel: Channel, readings: Thinned, now: datetime, days: Stretch) -> Floats:
    """ET on the grass surface of each day by one atmometer [mm]; NaN where it can't tell."""
    hours, value, flags = readings.table([channel.pk])
    trusted = ~doubted(flags[:, 0])
    at = [days.place(now + timedelta(hours=float(h))) for h in hours[trusted]]
    longest = kinds()[InstrumentKind.ATMOMETER].max_age_hours / 24
    start, end, lost = falls_of_level(at, value[trusted, 0], longest)
    shared = spread_over_days(start, end, lost, days.by_temperature.size, days.by_temperature)
    return shared * float(channel.instrument.constants.get(TO_GRASS, 1.0))


def _temperatures(row: WeatherDay | None) -> dict[str, float]:
    if row is None or row.t_min_c is None or row.t_max_c is None:
        return {}
    return {"t_min_c": row.t_min_c, "t_max_c": row.t_max_c}


def _may_speak(row: WeatherDay | None) -> bool:
    """An atmometer leads over temperatures alone, and over nothing else."""
    return row is None or row.et0_mm is None or row.et_method.startswith((METHOD, "Hargreaves"))


@transaction.atomic
def fill_from_atmometers(farm: Farm) -> int:
    """Put the ET that the farm's atmometers tell on its days; returns how many days changed.

    A loss over several days is shared among them as ET by temperature runs, evenly without
    temperatures; several atmometers are averaged. A day whose readings were taken back gets
    what it has without them, which may be nothing.
    """
    channels = list(
        Channel.objects.for_farm(farm)
        .filter(instrument__kind=InstrumentKind.ATMOMETER)
        .select_related("instrument")
    )
    if not channels:
        return 0
    now = farm.now()
    first = now.date() - timedelta(days=BACK_DAYS)
    on = [first + timedelta(days=k) for k in range(BACK_DAYS)]
    rows = {
        r.date: r for r in WeatherDay.objects.for_farm(farm).select_for_update().filter(date__in=on)
    }
    by_temperature = worked_out(
        [StationDay(day, _temperatures(rows.get(day))) for day in on], station_of(farm)
    )
    weight = np.array([np.nan if mm is None else mm for mm, _ in by_temperature])
    days = Stretch(first, weight, ZoneInfo(farm.time_zone))
    readings = thinned_readings([c.pk for c in channels], now, BACK_DAYS, _BUCKET_HOURS)
    et_seen = np.array([_et_of(c, readings, now, days) for c in channels])
    count = np.sum(~np.isnan(et_seen), axis=0)
    mean = np.where(count > 0, np.nansum(et_seen, axis=0) / np.maximum(count, 1), np.nan)
    names = ", ".join(sorted({c.instrument.label for c in channels}))
    changed = 0
    for day, mm, without in zip(on, mean, by_temperature, strict=True):
        row = rows.get(day)
        if not _may_speak(row):
            continue
        if 0 <= mm <= MOST_MM:
            et: tuple[float | None, str] = (round(float(mm), 2), f"{METHOD} {names}"[:120])
        elif row is not None and row.et_method.startswith(METHOD):
            et = without
        else:
            continue
        row = row or WeatherDay(farm=farm, date=day, source=METHOD)
        if (row.et0_mm, row.et_method) != et:
            row.et0_mm, row.et_method = et
            row.save()
            changed += 1
    return changed
