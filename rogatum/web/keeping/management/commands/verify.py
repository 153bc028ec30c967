"""`verify`: whether everything that is kept is there and unaltered. Exit status 1 where something is wrong."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from rogatum.web.keeping.backup import check


class Command(BaseCommand):
    help = "Checks the database and all files."
    # The framework's own checks are not what is asked for.
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--remove-orphans", action="store_true", help="remove files that nothing names")

    def handle(self, *args: Any, **options: Any) -> None:
        report = check(options["remove_orphans"])
        for words in report.wrong:
            self.stdout.write(words)
        orphans = f"{len(report.orphans):,} files that nothing names{', removed' if options['remove_orphans'] else ''}"
        self.stdout.write(f"Looked at the database and {report.files:,} files: {len(report.wrong)} wrong, {orphans}.")
        if not report.sound:
            raise CommandError("Something is wrong. Restore a backup, or bring the missing files back.")
