"""A live quiz board, simulated: it takes the rows of a sheet, each with its seconds and points, and leaves out what does not fit."""

from __future__ import annotations

from rogatum.core.items.content import plain_text
from rogatum.core.receivers.sheet import Sheet
from rogatum.standins.receiving import Received, read_file, received

USUAL_SECONDS = 20


def fill(data: bytes, file_name: str, format_name: str, sheet: Sheet) -> Received:
    """What stands on the board after it was filled. Raises FileRefused for a file that it does not take at all."""
    bank, _media = read_file(data, file_name, format_name, sheet)
    seconds = {item.id: _seconds(item.metadata.get("time", [])) for item in bank.items}
    result = received(bank, sheet, file_name)
    result.report += [
        f"{number}. {plain_text(item.stem)[:60]} ({seconds[item.id]} s, {item.points or 0:g} points)"
        for number, item in enumerate(result.bank.items, 1)
    ]
    return result


def _seconds(said: list[str]) -> int:
    return int(said[0]) if said and said[0].isdecimal() and 5 <= int(said[0]) <= 600 else USUAL_SECONDS
