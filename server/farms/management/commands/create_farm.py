"""Makes a farm and its first manager: how a farm of one's own begins."""

from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction
from django.utils.text import slugify

from server.farms.at_terminal import person_of, require_migrated
from server.farms.models import Farm, Membership, Role


class Command(BaseCommand):
    help = "Make a farm and its manager; the password is asked for."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="the farm's name")
        parser.add_argument("--time-zone", required=True, help="as in the IANA database")
        parser.add_argument("--manager", required=True, metavar="EMAIL")
        parser.add_argument("--manager-name", required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        require_migrated()
        if settings.CONFIG.demo or Farm.objects.filter(simulated=True).exists():
            raise CommandError(
                "This is the demo's database, which is made anew at will. Make your farm in its "
                "own: ./furrow manage create_farm …, without --demo."
            )
        try:
            ZoneInfo(options["time_zone"])
        except (ZoneInfoNotFoundError, ValueError):
            raise CommandError(
                f"{options['time_zone']!r} is no time zone of the IANA database."
            ) from None
        slug = slugify(options["name"])
        if not slug or Farm.objects.filter(slug=slug).exists():
            raise CommandError(f"There is a farm at {slug!r} already; choose another name.")
        email = options["manager"].lower()
        with transaction.atomic():
            user = person_of(email, options["manager_name"])
            farm = Farm(name=options["name"], slug=slug, time_zone=options["time_zone"])
            farm.save()
            Membership(user=user, farm=farm, role=Role.MANAGER).save()
        self.stdout.write(f"{farm.name} is at /{slug}; {email} manages it.")
