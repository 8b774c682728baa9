"""A weather service asked over HTTP: its days put on record, its newest forecast kept."""

import json
import time
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated

import httpx
import numpy as np
from django.conf import settings
from django.db import transaction
from ninja import Field
from pydantic import ValidationError

from core.outlook.forecast import Forecast
from core.sentence import Sentence, sentence
from server.base.schema import Schema
from server.farms.models import Farm
from server.weather.days import DaysStored, store_days
from server.weather.models import WeatherDay, WeatherForecast
from server.weather.station_columns import RANGE
from server.weather.station_day import StationDay

# For each step of the way, and for all of an answer.
TIMEOUT_S, LONGEST_S = 15, 60
# A service is not asked again while its last word is younger than this.
FORECAST_EVERY = timedelta(hours=6)
LONGEST_GAP_DAYS = 60
MOST_MEMBERS, MOST_DAYS = 200, 30
MOST_BYTES = 5_000_000
MOST_WIND_M_S = 60.0


class ServiceProblem(Exception):
    """The service could not be asked, or said what can't be used; nothing was changed."""

    def __init__(self, message: Sentence) -> None:
        super().__init__(message)
        self.message = message


class ServiceDay(Schema):
    date: date
    et0_mm: float | None = None
    rain_mm: float | None = None
    t_min_c: float | None = None
    t_max_c: float | None = None
    rh_min: float | None = None
    rh_max: float | None = None
    rh_mean: float | None = None
    dew_c: float | None = None
    solar_mj: float | None = None
    sunshine_h: float | None = None
    wind_m_s: float | None = None


class ServiceForecast(Schema):
    """Members by days from ``first_day`` on [mm/day], ET0 on the grass surface; wind at 2 m [m/s]
    by the hour from that day's midnight on."""

    issued_at: datetime
    first_day: date
    et0_mm: list[list[float]] = Field(min_length=1, max_length=MOST_MEMBERS)
    rain_mm: list[list[float]] = Field(min_length=1, max_length=MOST_MEMBERS)
    wind_m_s: list[Annotated[float, Field(ge=0, le=MOST_WIND_M_S)]] = Field(
        default=[], max_length=MOST_DAYS * 24
    )


class ServiceSays(Schema):
    source: str = Field(max_length=60)
    simulated: bool = False
    days: list[ServiceDay] = Field(max_length=400)
    forecast: ServiceForecast | None = None


@dataclass(frozen=True)
class Fetched:
    """What came: days, and whether a forecast was new."""

    days: DaysStored
    new_forecast: bool


def _body(now: datetime, days: int) -> bytes:
    """What the service answers, as far as weather can be long and for as long as one waits."""
    until, data = time.monotonic() + LONGEST_S, bytearray()
    asked = {"now": now.isoformat(), "days": str(days)}
    with httpx.stream(
        "GET",
        settings.CONFIG.weather_url,
        params=asked,
        timeout=TIMEOUT_S,
        follow_redirects=True,
    ) as answer:
        answer.raise_for_status()
        for piece in answer.iter_bytes():
            data += piece
            if len(data) > MOST_BYTES:
                break
            if time.monotonic() > until:
                raise httpx.ReadTimeout(
                    sentence("it took longer than {longest_s} s", longest_s=LONGEST_S)
                )
    return bytes(data)


def _ask(now: datetime, days: int) -> ServiceSays:
    if not settings.CONFIG.weather_url.startswith(("http://", "https://")):
        raise ServiceProblem(sentence("FURROW_WEATHER_URL must begin with http:// or https://."))
    try:
        data = _body(now, days)
    except (httpx.HTTPError, httpx.InvalidURL) as problem:
        raise ServiceProblem(
            sentence("The weather service can't be reached: {problem}.", problem=problem)
        ) from None
    if len(data) > MOST_BYTES:
        raise ServiceProblem(sentence("The weather service sent more than can be weather."))
    try:
        return ServiceSays.model_validate(json.loads(data))
    except (ValidationError, ValueError) as problem:
        first = str(problem).splitlines()[0]
        raise ServiceProblem(
            sentence("The weather service's answer can't be read: {first}.", first=first)
        ) from None


def _days(sent: ServiceSays, today: date) -> list[StationDay]:
    """Days that are over, with the values that can be; one that can't is left out and stays
    unknown."""
    out = {}
    for day in sent.days:
        values = {
            name: float(value)
            for name, value in day.model_dump(exclude={"date"}, exclude_none=True).items()
            if RANGE[name][0] <= value <= RANGE[name][1]
        }
        if values.get("t_min_c", -99) > values.get("t_max_c", 99):
            del values["t_min_c"], values["t_max_c"]
        if values and day.date < today:
            out[day.date] = StationDay(day.date, values)
    return [out[on] for on in sorted(out)]


def _forecast(sent: ServiceForecast) -> tuple[np.ndarray, np.ndarray]:
    widths = {len(row) for row in (*sent.et0_mm, *sent.rain_mm)}
    if len(widths) != 1 or max(widths) > MOST_DAYS:
        raise ServiceProblem(sentence("The weather service's members are not all of one length."))
    try:
        made = Forecast.of(sent.et0_mm, sent.rain_mm, max(widths))
    except ValueError as problem:
        raise ServiceProblem(
            sentence("The weather service's forecast can't be used: {problem}.", problem=problem)
        ) from None
    if sent.issued_at.tzinfo is None:
        raise ServiceProblem(sentence("The weather service's forecast does not say in which zone."))
    return made.et0_mm, made.rain_mm


def _missing_since(farm: Farm, today: date) -> int:
    """Days to ask for: from the last on record, a few again for what was mended since."""
    last = (
        WeatherDay.objects.for_farm(farm)
        .filter(et0_mm__isnull=False)
        .order_by("-date")
        .values_list("date", flat=True)
        .first()
    )
    gap = LONGEST_GAP_DAYS if last is None else (today - last).days + 2
    return min(max(gap, 3), LONGEST_GAP_DAYS)


def is_due(farm: Farm) -> bool:
    """Whether yesterday is not on record, or the newest forecast is some hours old."""
    now = farm.now()
    known = WeatherDay.objects.for_farm(farm).filter(
        date=now.date() - timedelta(days=1), et0_mm__isnull=False
    )
    fresh = WeatherForecast.objects.for_farm(farm).filter(issued_at__gt=now - FORECAST_EVERY)
    return not (known.exists() and fresh.exists())


def fetch_weather(farm: Farm) -> Fetched:
    """Ask the service for the farm: days missing so far, and the newest forecast; all or none.

    A day that a person entered or a station measured is left as it is.

    Raises
    ------
    ServiceProblem
    """
    now = farm.now()
    sent = _ask(now, _missing_since(farm, now.date()))
    members = _forecast(sent.forecast) if sent.forecast else None
    days = _days(sent, now.date())
    with transaction.atomic():
        own = set(
            WeatherDay.objects.for_farm(farm)
            .filter(date__in=[d.on for d in days])
            .exclude(source__startswith=sent.source)
            .values_list("date", flat=True)
        )
        stored = store_days(farm, [d for d in days if d.on not in own], sent.source)
        new = False
        if sent.forecast is not None and members is not None:
            if sent.forecast.issued_at > now + timedelta(minutes=5):
                raise ServiceProblem(
                    sentence("The weather service's forecast was issued in the future.")
                )
            et0, rain = members
            _, new = WeatherForecast.objects.for_farm(farm).get_or_create(
                farm=farm,
                issued_at=sent.forecast.issued_at,
                defaults={
                    "first_day": sent.forecast.first_day,
                    "members": et0.shape[0],
                    "et0_mm": et0.ravel().tolist(),
                    "rain_mm": rain.ravel().tolist(),
                    "wind_m_s": sent.forecast.wind_m_s,
                    "source": "simulated forecast" if sent.simulated else f"{sent.source} forecast",
                },
            )
    return Fetched(stored, new)
