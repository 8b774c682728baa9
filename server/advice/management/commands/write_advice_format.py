"""Freezes the schema in which advice is put on record."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.advice.kept import FORMAT, schema_file, schema_text


class Command(BaseCommand):
    help = "Write the schema of a new format of advice on record; a frozen one stays as it is."

    def handle(self, *args: Any, **options: Any) -> None:
        file = schema_file()
        if file.exists() and file.read_text() != schema_text():
            raise CommandError(
                f"Format {FORMAT} is frozen and what is written now is another: "
                "raise FORMAT in server/advice/kept.py, and say how the old one becomes it."
            )
        file.write_text(schema_text())
