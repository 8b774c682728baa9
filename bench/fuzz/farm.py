"""The farm that all is sent to."""

from dataclasses import dataclass

from django.test import Client

from server.accounts.demo_people import demo_user
from server.devices.services import add_device
from server.farms.access import Access
from server.farms.models import Farm, Membership, Role
from server.instruments.models import Channel
from server.readings.models import ReadingBatch
from tests.fuzz.good import Good, good
from tests.server.existing import add_one_of_each

# Enough that none sends more than a logger may.
DEVICES = 40
SLUG = "thistlewick"


@dataclass
class FuzzedFarm:
    """The farm that all is sent to, and what is known of its database."""

    session: str
    tokens: list[str]
    good: Good
    channels: list[int]
    instrument_id: int
    batches_before: int


def let_in() -> None:
    """Make the manager one again: what was sent may have removed him, once there was another."""
    user = demo_user(Role.MANAGER)
    Membership.objects.update_or_create(
        user=user, farm=Farm.objects.get(slug=SLUG), defaults={"role": Role.MANAGER}
    )


def set_up() -> FuzzedFarm:
    farm = Farm.objects.get(slug=SLUG)
    add_one_of_each(farm)
    user = demo_user(Role.MANAGER)
    assert user is not None
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    of_probe = Channel.objects.for_farm(farm).filter(instrument__kind="capacitance_probe")
    channels = list(of_probe.order_by("pk").values_list("pk", flat=True)[:4])
    access = Access(user, farm, Role.MANAGER)
    tokens = [add_device(access, f"Fuzz {k}", []).token for k in range(DEVICES)]
    known = good(farm)
    probe = of_probe.order_by("pk").values_list("instrument_id", flat=True)[0]
    last = ReadingBatch.unscoped.order_by("-pk").values_list("pk", flat=True).first() or 0
    return FuzzedFarm(client.cookies["sessionid"].value, tokens, known, channels, probe, last)
