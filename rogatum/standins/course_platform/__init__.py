"""A course platform, simulated: it imports a file as its sheet says, and keeps banks, tests and what it would not take."""

from __future__ import annotations

from rogatum.core.receivers.sheet import Sheet
from rogatum.standins.receiving import Received, read_file, received


def import_file(data: bytes, file_name: str, format_name: str, sheet: Sheet) -> Received:
    """What the platform holds after an import. Raises FileRefused for a file that it does not take at all."""
    bank, _media = read_file(data, file_name, format_name, sheet)
    result = received(bank, sheet, file_name)
    result.report += [f"Bank “{' / '.join(pool.path)}”: {len(pool.items)} questions." for pool in result.bank.pools]
    result.report += [f"Test “{quiz.title}”: {len(quiz.parts)} parts." for quiz in result.bank.quizzes]
    return result
