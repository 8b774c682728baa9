"""Adds a person to a farm, or gives one who is there another role."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction

from server.farms.at_terminal import person_of, require_migrated
from server.farms.changes import Done
from server.farms.models import Change, Farm, Membership, Role


class Command(BaseCommand):
    help = "Add a person to a farm; the password is asked for where the person is new."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("farm", help="the farm's address, such as over-holt")
        parser.add_argument("email")
        parser.add_argument("--name", required=True)
        parser.add_argument("--role", required=True, choices=list(Role.values))

    def handle(self, *args: Any, **options: Any) -> None:
        require_migrated()
        farm = Farm.objects.filter(slug=options["farm"]).first()
        if farm is None:
            known = ", ".join(Farm.objects.order_by("slug").values_list("slug", flat=True))
            raise CommandError(f"There is no farm {options['farm']!r}. There are: {known}.")
        email = options["email"].lower()
        with transaction.atomic():
            user = person_of(email, options["name"])
            member = Membership.objects.filter(farm=farm, user=user).first()
            done, about = (
                Done.ROLE_CHANGED,
                f"{user.name}: {member and member.role} → {options['role']}",
            )
            if member is None:
                member = Membership(farm=farm, user=user)
                done, about = Done.PERSON_ADDED, user.name
            member.role = options["role"]
            member.save()
            # Nobody of the farm did it, but whoever runs the server.
            Change(farm=farm, at=farm.now(), by=None, done=str(done), about=about).save()
        self.stdout.write(f"{email} is {member.role} of {farm.name}.")
