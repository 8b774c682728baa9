"""Let the demo's clock run, with a simulated gateway's token; or let it stand again."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from django.utils import timezone

from server.demo.farm import SLUG
from server.devices.models import Device
from server.devices.services import add_device, renew_token
from server.farms.access import Access
from server.farms.models import Farm, Membership, Role

GATEWAY = "Demo gateway"


class Command(BaseCommand):
    help = "Let the demo's clock run, or stand."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--rate", type=float, help="farm seconds in a real one; none: stand")
        parser.add_argument("--token-file", type=Path)

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        farm = Farm.objects.select_for_update().get(slug=SLUG)
        farm.fixed_now, farm.clock_started_at = farm.now(), None
        if options["rate"]:
            farm.clock_started_at, farm.clock_rate = timezone.now(), options["rate"]
        farm.save()
        if options["token_file"] is not None:
            path: Path = options["token_file"]
            path.touch(mode=0o600)
            path.write_text(_token(farm))


def _token(farm: Farm) -> str:
    """A fresh token of the farm's simulated gateway, made when it is not there yet."""
    manager = Membership.objects.select_related("user").get(farm=farm, role=Role.MANAGER)
    access = Access(manager.user, farm, Role.MANAGER)
    device = Device.objects.for_farm(farm).filter(name=GATEWAY).first()
    if device is not None:
        return renew_token(access, device.pk).token
    issued = add_device(access, GATEWAY, [])
    issued.device.simulated = True
    issued.device.save(update_fields=["simulated"])
    return issued.token
