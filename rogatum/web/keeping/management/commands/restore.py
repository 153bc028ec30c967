"""`restore FILE`: everything as a backup has it."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from rogatum.web.keeping.backup import restore


class Command(BaseCommand):
    help = "Puts everything back as a backup has it; what was there is kept beside."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        told = restore(options["file"].resolve())
        self.stdout.write(f"Restored {options['file']}. {told}".strip())
