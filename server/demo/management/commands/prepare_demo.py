"""All that the demo needs before it is served, in one process: each would take seconds to start."""

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser


class Command(BaseCommand):
    help = "Make the demo ready to be served: its tables, farm, clock and simulated devices."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--rate", type=float, help="farm seconds in a real one; none: stand")
        parser.add_argument("--gateway-token-file", type=Path)
        parser.add_argument("--controller-token-file", type=Path, required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        call_command("seed_demo")
        call_command("judge_readings")
        call_command("demo_clock", rate=options["rate"], token_file=options["gateway_token_file"])
        call_command("demo_controller", token_file=options["controller_token_file"])
