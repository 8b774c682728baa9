"""Findings made before anyone asks for them."""

from procrastinate.contrib.django import app

from server.base.incident import isolated
from server.farms.models import Farm
from server.findings.bring_up import bring_up


@app.periodic(cron="35 * * * *")
@app.task(name="findings.bring_up", queueing_lock="findings.bring_up", lock="findings.bring_up")
def bring_up_farms(timestamp: int) -> None:
    """Every farm's findings, once an hour; one that fails does not keep the others waiting."""
    for farm in Farm.objects.all():
        with isolated(f"findings of {farm.slug}"):
            bring_up(farm)
