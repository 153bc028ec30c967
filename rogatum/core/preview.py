"""What each line of a text would be read as, and what would be queried about it, without keeping anything."""

from __future__ import annotations

import re
from collections.abc import Mapping

from pydantic import BaseModel

from rogatum.core.finding import Finding
from rogatum.core.findings.catalogue import needs_look
from rogatum.core.receiving import read_source
from rogatum.core.sources import ReadOptions

_LINE = re.compile(r"line (\d{1,9})\b")


class PreviewLine(BaseModel):
    """A line by its number (from 1): its role, the item that it belongs to (by place, from 1), and the worst that is said of it."""

    number: int
    role: str
    name: str
    item: int | None
    level: str
    message: str


class Preview(BaseModel):
    """How many items a text would give, how many of them need a look, and its lines."""

    items: int
    flagged: int
    lines: list[PreviewLine]


def preview_text(text: str, format_name: str, roles: Mapping[str, str]) -> Preview:
    """Raises UnreadableSource."""
    if not text.strip():
        return Preview(items=0, flagged=0, lines=[])
    reading = read_source(("text", text.encode()), format_name, options=ReadOptions(roles=roles))
    bank = reading.bank
    order = {item.id: position for position, item in enumerate(bank.items, 1)}
    queries: dict[int, Finding] = {}
    for finding in bank.findings:
        place = _LINE.match(finding.where)
        if place and needs_look(finding.level):
            queries.setdefault(int(place[1]), finding)
    lines = []
    for line in reading.view:
        query = queries.get(line.number)
        level, message = (query.level, query.message) if query else ("", "")
        item = order.get(line.item or "")
        lines.append(PreviewLine(number=line.number, role=line.role, name=line.name, item=item, level=level, message=message))
    flagged = len({finding.item for finding in bank.findings if finding.item and needs_look(finding.level)})
    return Preview(items=len(bank.items), flagged=flagged, lines=lines)
