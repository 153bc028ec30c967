"""`verify`: whether everything that is kept is there and unaltered. Exit status 1 where something is wrong."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from rogatum.web.keeping.backup import check
from rogatum.web.keeping.recovering import cut_circles, recover
from rogatum.web.upgrading import damage_of


class Command(BaseCommand):
    help = "Checks the database and all files."
    # The framework's own checks are not what is asked for.
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--mend", action="store_true", help="save what can be read of a damaged database; cut circles of pools")
        parser.add_argument("--remove-orphans", action="store_true", help="remove files that nothing names")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["mend"]:
            self._mend()
        report = check(options["remove_orphans"])
        for words in report.wrong:
            self.stdout.write(words)
        orphans = f"{len(report.orphans):,} files that nothing names{', removed' if options['remove_orphans'] else ''}"
        self.stdout.write(f"Looked at the database and {report.files:,} files: {len(report.wrong)} wrong, {orphans}.")
        if report.damaged:
            raise CommandError("Nothing else was looked at.")
        if not report.sound:
            raise CommandError("Something is wrong. Restore a backup, or bring the missing files back.")

    def _mend(self) -> None:
        path = Path(connection.settings_dict["NAME"])
        if damage_of(path):
            aside, saved, lost = recover(path)
            self.stdout.write(f"Saved {saved:,} rows; the damaged database lies in {aside.name}.")
            if lost:
                self.stdout.write(f"{lost:,} of them belonged to rows that cannot be read, and are gone.")
        for key in cut_circles():
            self.stdout.write(f"The pool with the number {key} lay in itself; it is at the top of its course now.")
