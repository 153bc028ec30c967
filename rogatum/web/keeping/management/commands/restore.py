"""`restore FILE`: everything as a backup has it."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from rogatum.web.keeping.backup import restore


class Command(BaseCommand):
    help = "Puts everything back as a backup has it; what was there is kept beside."
    # A damaged database is told in words.
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--over", action="store_true", help="where the database that is there is damaged: move it aside")

    def handle(self, *args: Any, **options: Any) -> None:
        told = restore(options["file"].resolve(), options["over"])
        self.stdout.write(f"Restored {options['file']}. {told}".strip())
