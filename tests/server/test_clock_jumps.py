"""The machine's clock set wrong, and right again: nothing stays wrong, nothing is lost."""

from datetime import timedelta
from typing import Any

import pytest
from django.core import mail

from server.advice.models import Advice
from server.farms.models import Farm
from server.instruments.models import Channel
from server.readings.models import Reading
from server.today.tasks import freshen, morning
from tests.server.conftest import Api
from tests.server.test_ingest import Logger, logger  # noqa: F401

BASE = "/farms/thistlewick"
PAGES = ("board", "today", "water", "weather", "instruments", "block-list")


def states(api: Api) -> dict[str, Any]:
    rows = api.get(f"{BASE}/board")["rows"]
    return {r["name"]: (r["answer"]["state"], r["answer"]["start_at"]) for r in rows}


def set_clock(farm: Farm, jump: timedelta) -> None:
    assert farm.fixed_now is not None
    farm.fixed_now += jump
    farm.save()


def send(device: Logger, farm: Farm, channel: Channel) -> dict[str, Any]:
    at = (farm.now() - timedelta(minutes=1)).isoformat()
    series = {"channel": channel.pk, "unit": "%", "times": [at], "values": [24.5]}
    told: dict[str, Any] = device.send({"series": [series]})
    return told


@pytest.mark.parametrize("jump", [timedelta(days=300), timedelta(days=-300)], ids=["on", "back"])
def test_a_clock_set_wrong_and_right_again(
    farm: Farm,
    manager: Api,
    logger: Logger,  # noqa: F811
    jump: timedelta,
) -> None:
    manager.put(f"{BASE}/today/mail", {"morning_mail": True})
    before, today = states(manager), farm.now().date()
    channel = Channel.objects.for_farm(farm).filter(quantity="theta")[0]
    set_clock(farm, jump)
    for page in PAGES:
        manager.get(f"{BASE}/{page}")
    morning(0)
    freshen(0)
    assert send(logger, farm, channel)["new"] == 1
    set_clock(farm, -jump)
    for page in PAGES:
        manager.get(f"{BASE}/{page}")
    assert states(manager) == before
    Advice.objects.for_farm(farm).filter(day=today).delete()
    sent = len(mail.outbox)
    morning(0)
    assert Advice.objects.for_farm(farm).filter(day=today).count() == len(before)
    assert len(mail.outbox) == sent + 1
    assert send(logger, farm, channel)["new"] == 1
    # What came while the clock was wrong is there still, for whoever looks.
    assert Reading.objects.for_farm(farm).filter(value=24.5, channel=channel.pk).count() >= 2
