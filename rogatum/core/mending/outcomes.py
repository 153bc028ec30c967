"""Outcomes that were lost, put back: by the numbers of questions, or by chapter."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from rogatum.core.errors import NothingToMend
from rogatum.core.items import parts
from rogatum.core.mending.numbers import Made, Subject, numbers_in, told_missing
from rogatum.core.mending.numbers import by_number as numbered
from rogatum.core.mending.wishes import OutcomesByChapter, OutcomesByNumber

LABEL = "outcome"


def by_number(wish: OutcomesByNumber, subjects: Sequence[Subject], unmet: list[str]) -> Callable[[Subject], Made | None]:
    known = numbered(subjects)
    codes: dict[int, list[str]] = {}
    for entry in re.split(r"[;\n]+", wish.text):
        if not entry.strip():
            continue
        numbers, colon, said = entry.partition(":")
        named = [code.strip() for code in said.split(",") if code.strip()]
        if not colon or not named:
            raise NothingToMend(f"“{entry.strip()[:60]}” names no outcome.", "Write numbers, a colon, and the outcome: 1–5: 2.1")
        listed = numbers_in(numbers)
        told_missing(listed, known, unmet)
        for number in listed:
            if number in known:
                codes.setdefault(known[number].position, []).extend(named)
    return lambda subject: _aligned(subject, codes.get(subject.position, []), wish.replace)


def by_chapter(wish: OutcomesByChapter, _subjects: Sequence[Subject], _unmet: list[str]) -> Callable[[Subject], Made | None]:
    table = {tuple(path): codes for path, codes in wish.table}

    def step(subject: Subject) -> Made | None:
        return _aligned(subject, table.get(subject.path, []), wish.replace) if parts.is_question(subject.item) else None

    return step


def _aligned(subject: Subject, codes: Sequence[str], replace: bool) -> Made | None:
    if not codes:
        return None
    held = subject.item.metadata.get(LABEL, [])
    values = list(dict.fromkeys([*([] if replace else held), *codes]))
    item = subject.item.model_copy(update={"metadata": subject.item.metadata | {LABEL: values}})
    return item, ", ".join(held) or "no outcome", ", ".join(values)
