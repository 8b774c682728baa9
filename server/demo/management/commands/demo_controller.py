"""Give the demo's simulated valve controller a fresh token."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from server.demo.controller import CONTROLLER
from server.demo.farm import SLUG
from server.farms.access import Access
from server.farms.models import Farm, Membership, Role
from server.valves.models import ValveController
from server.valves.setting_up import renew_controller_token


class Command(BaseCommand):
    help = "Give the demo's simulated valve controller a fresh token."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--token-file", type=Path, required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        farm = Farm.objects.get(slug=SLUG)
        manager = Membership.objects.select_related("user").get(farm=farm, role=Role.MANAGER)
        access = Access(manager.user, farm, Role.MANAGER)
        box = ValveController.objects.for_farm(farm).get(name=CONTROLLER)
        path: Path = options["token_file"]
        path.touch(mode=0o600)
        path.write_text(renew_controller_token(access, box.pk).token)
