"""Makes the demo farm when the database does not hold it."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.advice.stored import refresh
from server.demo.farm import SLUG
from server.demo.seed import seed_demo
from server.farms.models import Farm


class Command(BaseCommand):
    help = "Make the demo farm and its board, unless it is there."

    def handle(self, *args: Any, **options: Any) -> None:
        own = Farm.objects.filter(simulated=False).order_by("name").values_list("name", flat=True)
        if own:
            raise CommandError(
                f"This database holds a farm that is no demo ({', '.join(own[:3])}); the demo is "
                "made anew at will and must not share one with it. If an earlier version put it "
                "here, stop everything and rename the folder 'demo' of the database clusters to "
                "'farm': './furrow serve' then finds it."
            )
        if Farm.objects.filter(slug=SLUG).exists():
            return
        self.stderr.write("· Simulating the demo farm's season")
        refresh(seed_demo())
