"""Makes the demo farm when the database does not hold it."""

from typing import Any

from django.core.management.base import BaseCommand

from server.advice.stored import refresh
from server.demo.farm import SLUG
from server.demo.seed import seed_demo
from server.farms.models import Farm


class Command(BaseCommand):
    help = "Make the demo farm and its board, unless it is there."

    def handle(self, *args: Any, **options: Any) -> None:
        if Farm.objects.filter(slug=SLUG).exists():
            return
        self.stderr.write("· Simulating the demo farm's season")
        refresh(seed_demo())
