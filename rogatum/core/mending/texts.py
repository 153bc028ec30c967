"""Feedback onto items, from a sheet by number."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from rogatum.core.errors import NothingToMend
from rogatum.core.items.content import escape, plain_text, rich
from rogatum.core.mending.numbers import Made, Subject, by_number, told_missing
from rogatum.core.mending.wishes import FeedbackFromSheet

# A row of a sheet: a number, what parts cells, and a text.
_ROW = re.compile(r'\s*+"?(?P<number>\d{1,4})[.)]?"?[ ]{0,3}[\t|;,](?P<text>.+)')
_SHOWN = 160


def feedback_by_number(wish: FeedbackFromSheet, subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    known = by_number(subjects)
    rows = _rows(wish.text)
    told_missing(list(rows), known, unmet)
    said = {known[number].position: text for number, text in rows.items() if number in known}

    def step(subject: Subject) -> Made | None:
        text = said.get(subject.position)
        if text is None:
            return None
        held = subject.item.feedback.get(wish.slot, "")
        item = subject.item.model_copy(update={"feedback": subject.item.feedback | {wish.slot: text}})
        return item, plain_text(held)[:_SHOWN] or "no feedback", plain_text(text)[:_SHOWN]

    return step


def _rows(text: str) -> dict[int, str]:
    """The texts of a sheet by number; a heading and rows without a number are passed over."""
    found: dict[int, str] = {}
    for match in filter(None, map(_ROW.fullmatch, text.splitlines())):
        said = _unquoted(match["text"].strip())
        if said:
            found[int(match["number"])] = rich(said) if "<" in said else escape(said)
    if not found:
        raise NothingToMend(
            "No row begins with a number.", "Put the number of the question first in each row, and a tab or a bar behind it."
        )
    return found


def _unquoted(text: str) -> str:
    """A cell as a sheet writes it, without the quotes around it (RFC 4180, section 2)."""
    return text[1:-1].replace('""', '"').strip() if len(text) > 1 and text[0] == text[-1] == '"' else text
