"""`backup FILE`: everything that is kept, in one file."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from rogatum.web.keeping.backup import make_backup


class Command(BaseCommand):
    help = "Writes a backup of everything, while the program runs."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        count = make_backup(options["file"].resolve())
        self.stdout.write(f"Wrote {options['file']}: the database and {count:,} files.")
