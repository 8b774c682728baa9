"""Writes the API's description, from which the interface's types are generated."""

import json
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.api import api
from server.config import ROOT

PATH = ROOT / "server" / "openapi.json"


class Command(BaseCommand):
    help = "Write server/openapi.json; with --check, fail when it is stale."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        text = json.dumps(api.get_openapi_schema(path_prefix="/api/"), indent=1) + "\n"
        if not options["check"]:
            PATH.write_text(text, "utf-8")
        elif not PATH.exists() or PATH.read_text("utf-8") != text:
            raise CommandError("server/openapi.json is stale: run './furrow api'")
