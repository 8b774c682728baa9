"""Ask the weather service for a farm now."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.farms.models import Farm
from server.weather.service import ServiceProblem, fetch_weather


class Command(BaseCommand):
    help = "Ask the weather service (FURROW_WEATHER_URL) for a farm now."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("slug")

    def handle(self, *args: Any, **options: Any) -> None:
        farm = Farm.objects.filter(slug=options["slug"]).first()
        if farm is None:
            raise CommandError(f"There is no farm {options['slug']}.")
        try:
            got = fetch_weather(farm)
        except ServiceProblem as problem:
            raise CommandError(str(problem)) from None
        self.stdout.write(
            f"{got.days.new} days new, {got.days.changed} changed; "
            f"{'a new' if got.new_forecast else 'no new'} forecast."
        )
