"""`backup FILE`: everything that is kept, in one file. Exit status 1 where files are missing, which it names."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from rogatum.web.keeping.backup import make_backup


class Command(BaseCommand):
    help = "Writes a backup of everything, while the program runs."
    # A damaged database is told in words.
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        made = make_backup(options["file"].resolve())
        self.stdout.write(f"Wrote {options['file']}: the database and {made.files:,} files.")
        for what in made.missing:
            self.stdout.write(f"The file of {what} is missing; the backup has none of it.")
        if made.missing:
            raise CommandError(f"{len(made.missing):,} files are missing. What shows them goes on without them: run check.")
