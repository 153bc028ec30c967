"""What is handed on, as the core's bank: rows or a quiz, with media under their own names, and written as a receiver needs it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from rogatum.core.items import Bank, Media, SourceInfo, Stimulus
from rogatum.core.items import Item as CoreItem
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import with_refs
from rogatum.core.items.parts import content_fields
from rogatum.core.quizzes.carrying import as_of_section
from rogatum.core.quizzes.catalogue import ids_of
from rogatum.core.quizzes.model import as_handed_on
from rogatum.web.courses.history import version_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import media_used
from rogatum.web.handoffs.models import Wording
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import selected
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Quiz
from rogatum.web.quizzes.services import shown_one
from rogatum.web.quizzes.storing import quiz_now

MediaFiles = dict[str, tuple[Media, Path]]


@dataclass(frozen=True)
class Chosen:
    """What is to be handed on: its title, its rows in order, and the quiz where it is one."""

    title: str
    rows: Sequence[Item]
    quiz: Quiz | None = None


def chosen(course: Course, selection: Selection | None, quiz: Quiz | None) -> Chosen:
    """What a selection or a quiz holds."""
    if quiz is not None:
        must(quiz.course_id == course.pk)
        now = shown_one(quiz)
        keys = dict.fromkeys(int(key) for part in now.core.parts for key in ids_of(now.catalogue.given_by(part)))
        rows = Item.objects.in_bulk(list(keys))
        return Chosen(quiz.title, [rows[key] for key in keys if key in rows], quiz)
    assert selection is not None
    pool = Pool.objects.filter(pk=selection.pool, course=course).first() if selection.pool else None
    return Chosen(pool.name if pool else course.name, list(selected(course, selection)))


def chosen_by(course: Course, scope: dict[str, Any]) -> Chosen | None:
    """What a stored scope holds now; None where it is a quiz that is gone."""
    if scope.get("quiz"):
        quiz = Quiz.objects.filter(pk=scope["quiz"], course=course).first()
        return chosen(course, None, quiz) if quiz else None
    return chosen(course, Selection(**(scope.get("selection") or {"all_matching": True})), None)


def id_of(row: int | Item) -> str:
    """What an item is called where it is handed on."""
    return f"i{row if isinstance(row, int) else row.pk}"


def row_of(item_id: str) -> int:
    """The row's number of an id that `id_of` made; 0 for another one."""
    number = item_id.removeprefix("i")
    return int(number) if number.isascii() and number.isdecimal() and len(number) < 19 else 0


NO_WORDING = "none"


def wording_version(row: Item, receiver: str) -> str:
    """What tells one way in which an item is written for a receiver from another."""
    found = Wording.objects.filter(item=row, receiver=receiver).first()
    return version_of(found) if found else NO_WORDING


def wordings_of(course: Course, rows: Iterable[Item], receiver: str) -> dict[int, Wording]:
    """How items are written for a receiver, by their rows; what was written of another state of the item is left aside."""
    if not receiver:
        return {}
    found = Wording.objects.filter(course=course, receiver=receiver)
    states = {row.pk: row.digest for row in rows}
    return {wording.item_id: wording for wording in found if states.get(wording.item_id) == wording.digest}


def written_as(row: Item, wordings: Mapping[int, Wording]) -> CoreItem:
    wording = wordings.get(row.pk)
    if wording is None:
        return core_item(row)
    return core_item(Item(pk=row.pk, body=wording.body))


def bank_of(
    course: Course,
    title: str,
    rows: Iterable[Item],
    quiz: Quiz | None = None,
    receiver: str = "",
    section: str = "",
) -> tuple[Bank, MediaFiles]:
    """Rows as the core's bank, with media under their own names and where they lie; and the quiz as a value.

    For a receiver its own wordings stand in the place of items, for a section its dates in the place of the quiz's.
    """
    rows = list(rows)
    wordings = wordings_of(course, rows, receiver)
    bank = Bank(title=title, source=SourceInfo(name=course.name, format="pools"))
    items = [(row, written_as(row, wordings)) for row in rows]
    stimuli = {row.pk: row.stimulus for row, _ in items if row.stimulus}
    passages = [stimulus["content"] for stimulus in stimuli.values()]
    files, refs = media_used(course, [*(content for _, item in items for content in content_fields(item)), *passages])

    def renamed(content: str) -> str:
        return with_refs(content, lambda ref: refs.get(ref, ref))

    tree = PoolTree(course)
    known_stimuli: dict[str, str] = {}
    for row, item in items:
        moved = map_content(item, renamed) if refs else item
        moved = moved.model_copy(update={"id": id_of(row), "stimulus": _stimulus(bank, row, known_stimuli, renamed)})
        bank.items.append(moved)
        bank.place_in_pool(moved.id, list(tree.path(row.pool_id)))
    bank.media = [entry for entry, _ in files.values()]
    if quiz is not None:
        core = as_handed_on(quiz_now(quiz.pk, tree), {str(row.pk): id_of(row) for row, _ in items})
        bank.quizzes = [as_of_section(core, section) if section else core]
    return bank, files


def _stimulus(bank: Bank, row: Item, known: dict[str, str], renamed: Any) -> str | None:
    """The id of the row's stimulus in the bank; equal passages are one."""
    if not row.stimulus:
        return None
    content = renamed(row.stimulus["content"])
    if content not in known:
        known[content] = f"s{len(known) + 1}"
        bank.stimuli.append(Stimulus(id=known[content], content=content))
    return known[content]
