"""Events read before anyone asks for them."""

from procrastinate.contrib.django import app

from server.base.incident import isolated
from server.events.bring_up import bring_up
from server.farms.models import Farm


@app.periodic(cron="25 * * * *")
@app.task(name="events.bring_up", queueing_lock="events.bring_up", lock="events.bring_up")
def bring_up_farms(timestamp: int) -> None:
    """Every farm's events, once an hour; one that fails does not keep the others waiting."""
    for farm in Farm.objects.all():
        with isolated(f"events of {farm.slug}"):
            bring_up(farm)
