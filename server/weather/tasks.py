"""Work of the weather that takes longer than a request."""

from datetime import date

from procrastinate.contrib.django import app

from server.farms.models import Farm
from server.weather.days import judge_stretch


@app.task(name="weather.judge_days", queue="weather")
def judge_days(farm_id: int, first: str, last: str) -> None:
    """Judge the readings of days again after their rain has changed; can be repeated."""
    judge_stretch(Farm.objects.get(pk=farm_id), date.fromisoformat(first), date.fromisoformat(last))
