"""Makes a farm and its first manager: how a farm of one's own begins."""

import getpass
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.conf import settings
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection, transaction
from django.db.migrations.executor import MigrationExecutor
from django.utils.text import slugify

from server.accounts.models import User
from server.farms.models import Farm, Membership, Role


def require_migrated() -> None:
    """Refuse to work on a database that is not set up, or not to this version.

    Raises
    ------
    CommandError
        With the command that does it.
    """
    steps = MigrationExecutor(connection)
    if steps.migration_plan(steps.loader.graph.leaf_nodes()):
        raise CommandError(
            "The database is not set up for this version. Run './furrow manage migrate', then "
            "this again."
        )


def ask_password() -> str:
    """The manager's password, typed where nobody sees it.

    Raises
    ------
    CommandError
        When nobody is there to type it.
    """
    try:
        return getpass.getpass("Password for the manager: ")
    except EOFError:
        raise CommandError("The manager's password is asked for: run this at a terminal.") from None


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
            user = User.objects.filter(email=email).first()
            if user is None:
                password = ask_password()
                try:
                    validate_password(password)
                except ValidationError as problem:
                    raise CommandError(" ".join(problem.messages)) from None
                user = User.objects.create_user(email, options["manager_name"], password)
            farm = Farm(name=options["name"], slug=slug, time_zone=options["time_zone"])
            farm.save()
            Membership(user=user, farm=farm, role=Role.MANAGER).save()
        self.stdout.write(f"{farm.name} is at /{slug}; {email} manages it.")
