"""Work of the weather that takes longer than a request, or that nobody asks for."""

import logging
from datetime import date

from django.conf import settings
from procrastinate.contrib.django import app

from server.base.turns import SOMEBODY_WAITS
from server.farms.models import Farm
from server.weather.atmometers import fill_from_atmometers
from server.weather.days import judge_stretch
from server.weather.service import ServiceProblem, fetch_weather, is_due

log = logging.getLogger(__name__)


@app.task(name="weather.judge_days", queue="weather", priority=SOMEBODY_WAITS)
def judge_days(farm_id: int, first: str, last: str) -> None:
    """Judge the readings of days again after their rain has changed; can be repeated."""
    judge_stretch(Farm.objects.get(pk=farm_id), date.fromisoformat(first), date.fromisoformat(last))


@app.periodic(cron="*/2 * * * *")
@app.task(name="weather.fetch", queueing_lock="weather.fetch", lock="weather.fetch")
def fetch(timestamp: int) -> None:
    """Ask the weather service for every farm that wants for weather; one that fails does not keep
    the others waiting."""
    if not settings.CONFIG.weather_url:
        return
    for farm in Farm.objects.all():
        if not is_due(farm):
            continue
        try:
            fetch_weather(farm)
        except ServiceProblem as problem:
            log.warning("weather of %s: %s", farm.slug, problem)


@app.periodic(cron="*/10 * * * *")
@app.task(name="weather.atmometers", queueing_lock="weather.atmometers", lock="weather.atmometers")
def atmometers(timestamp: int) -> None:
    """Put on the days what the farms' atmometers told since."""
    for farm in Farm.objects.all():
        fill_from_atmometers(farm)
