"""Reads the model's own JSON, alone or with its media in a zip."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from rogatum.core.errors import UnreadableSource
from rogatum.core.findings.contents import MEDIA_MISSING
from rogatum.core.findings.items import INVALID_ITEM, INVALID_QUIZ
from rogatum.core.formats.items_json.sniff import document_of
from rogatum.core.formats.shared.base import Reading, ViewLine
from rogatum.core.items import ITEM, Bank, DrawEntry, Item, Place
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import with_refs
from rogatum.core.quizzes.model import Draw, Part, Quiz
from rogatum.core.sources import DAMAGE, MediaBox, SourceTree, decode_text


def read_items_json(tree: SourceTree) -> Reading:
    """Reads a bank. An item that is not valid becomes a finding; raises UnreadableSource when the whole is not JSON."""
    file = document_of(tree)
    assert file is not None
    text, findings = decode_text(file.read(), file.name)
    try:
        data = json.loads(text)
        raw_items = data.pop("items", [])
        raw_quizzes, raw_draws = data.pop("quizzes", None) or [], data.pop("draws", None) or []
        bank = Bank.model_validate(data | {"items": []})
    except (ValueError, AttributeError, ValidationError, RecursionError) as error:
        raise UnreadableSource(
            f"{file.name} is a JSON file", f"It does not hold a bank ({_short(error)}).", "Check that it is complete."
        ) from None
    bank.findings += findings
    _take_quizzes(bank, raw_quizzes, raw_draws)
    if not isinstance(raw_items, list):
        raise UnreadableSource(f"{file.name} is a JSON file", "Its items are no list.", "Check that it is complete.")
    for number, raw in enumerate(raw_items, 1):
        _take(bank, raw, number)
    media = _media(bank, tree, file.name)
    bank.source.format = "items-json"
    view = [ViewLine(number, line) for number, line in enumerate(text.split("\n"), 1)] if text.count("\n") < 5000 else []
    return Reading(bank, media, view)


def _take_quizzes(bank: Bank, quizzes: Any, draws: Any) -> None:
    """The quizzes of a bank, or what an older one had instead. One that is not valid becomes a finding, and costs nothing else."""
    try:
        for raw in quizzes:
            bank.quizzes.append(Quiz.model_validate(raw))
        if not bank.quizzes and draws:
            bank.quizzes = [_quiz_of_draws(bank.title, [DrawEntry.model_validate(draw) for draw in draws])]
    except (ValidationError, TypeError) as error:
        bank.findings.append(INVALID_QUIZ.at(bank.source.name, detail=_short(error)))


def _quiz_of_draws(title: str, draws: list[DrawEntry]) -> Quiz:
    """The older form had draws alone: they are the parts of one quiz."""
    parts = [Part(title=d.title, draw=Draw(pool=d.pool, pick=d.pick), points_each=d.points_each) for d in draws]
    return Quiz(id="q1", title=title, parts=parts)


def _media(bank: Bank, tree: SourceTree, name: str) -> MediaBox:
    """The media that lie in the archive. What the bank says of them (hash, size, type) is not taken: it is found from the bytes."""
    media = MediaBox()
    refs: dict[str, str] = {}
    for entry in bank.media:
        stored = None if tree.lone else tree.find(entry.ref)
        try:
            if stored is not None:
                refs[entry.ref] = media.add_file(stored)
                continue
        except (UnreadableSource, *DAMAGE):
            pass
        bank.findings.append(MEDIA_MISSING.at(name, name=entry.ref[:120]))
    if any(old != new for old, new in refs.items()):
        bank.items = [map_content(item, lambda content: with_refs(content, lambda ref: refs.get(ref, ref))) for item in bank.items]
        for stimulus in bank.stimuli:
            stimulus.content = with_refs(stimulus.content, lambda ref: refs.get(ref, ref))
    bank.media = media.entries()
    return media


def _take(bank: Bank, raw: Any, number: int) -> None:
    try:
        item: Item = ITEM.validate_python(raw)
    except ValidationError as error:
        bank.findings.append(INVALID_ITEM.at(f"item {number}", detail=_short(error)))
        return
    bank.items.append(item)
    bank.places.setdefault(item.id, Place(where=f"item {number}"))


def _short(error: Exception) -> str:
    if isinstance(error, ValidationError):
        first = error.errors()[0]
        return f"{'.'.join(map(str, first['loc']))}: {first['msg']}"
    return str(error)[:120]
