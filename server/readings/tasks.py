"""Months of readings made ahead."""

from datetime import timedelta

from procrastinate.contrib.django import app

from server.base.incident import isolated
from server.farms.models import Farm
from server.readings.partitions import ensure_months

# Visits reach back so far; a month's partition is there long before its first reading.
BACK, AHEAD = timedelta(days=400), timedelta(days=62)


@app.periodic(cron="7 * * * *")
@app.task(name="readings.make_months", queueing_lock="readings.make_months")
def make_months(timestamp: int) -> None:
    """Make the months around each farm's present; nothing where they are there."""
    for farm in Farm.objects.all():
        with isolated(f"months of {farm.slug}"):
            now = farm.now()
            ensure_months(now - BACK, now + AHEAD)
