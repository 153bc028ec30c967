"""Between rows and the core's quizzes: what is stored of a quiz, and nothing that is computed of it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import Prefetch, QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.settings import Settings
from rogatum.web.bulk import add_rows
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.errors import NotPossible
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Part, PartItem, Quiz

WITH_PARTS = Prefetch("parts", Part.objects.prefetch_related("entries"))


def with_parts(quizzes: QuerySet[Quiz]) -> QuerySet[Quiz]:
    """The quizzes with all that `core_quiz` wants of them, in as many queries whatever their number."""
    return quizzes.prefetch_related(WITH_PARTS)


def core_quiz(quiz: Quiz, tree: PoolTree) -> CoreQuiz:
    """The core's quiz of a row; parts and items have their rows' numbers as ids."""
    parts = [_core_part(part, tree) for part in quiz.parts.all()]
    plan = core_plan(quiz.plan, tree) if quiz.plan else None
    return CoreQuiz(id=str(quiz.pk), title=quiz.title, parts=parts, settings=Settings(**quiz.settings), plan=plan)


def quiz_now(quiz_id: int, tree: PoolTree) -> CoreQuiz:
    """The core's quiz as it is stored now."""
    return core_quiz(get_object_or_404(with_parts(Quiz.objects.filter(pk=quiz_id))), tree)


def _core_part(part: Part, tree: PoolTree) -> CorePart:
    drawn = part.kind == Part.Kind.DRAW
    draw = {"pool": part.pool_id, "pick": part.pick, "alone": part.alone, "where": part.where, "without": part.without}
    return CorePart(
        id=str(part.pk),
        title=part.title,
        instructions=part.instructions,
        page_break=part.page_break,
        items=[] if drawn else [str(entry.item_id) for entry in part.entries.all()],
        draw=core_draw(draw, tree) if drawn else None,
        picked_from=core_draw(part.picked_from, tree) if part.picked_from else None,
        points_each=part.points_each,
        points=part.points,
    )


# How the path of a pool that is gone begins; behind it stands its number.
GONE = [""]

# Draws and plans name pools by their numbers where they are stored, so that a pool may be moved or called otherwise.


def core_draw(said: dict[str, Any], tree: PoolTree) -> Draw:
    """A stored draw; one of a pool that is gone holds nothing, and goes on to say so."""
    key = said.get("pool")
    path = list(tree.path(key)) if key is None or tree.path(key) else [*GONE, str(key)]
    never = [str(item) for item in said.get("without", [])]
    return Draw(pool=path, pick=max(1, said["pick"]), alone=said.get("alone", False), where=said.get("where", []), without=never)


def stored_draw(draw: Draw, tree: PoolTree) -> dict[str, Any]:
    said = draw.model_dump(mode="json", exclude={"pool", "without"})
    return said | {"pool": _number(draw.pool, tree), "without": [int(item) for item in draw.without]}


def is_gone(path: Sequence[str]) -> bool:
    """Whether a path is that of a pool that is gone: no pool is called nothing."""
    return len(path) == 2 and path[0] == GONE[0]


def _number(path: Sequence[str], tree: PoolTree) -> int | None:
    """The pool of a draw by its number; none is the whole course. Raises NotPossible for one that is not there."""
    if not path:
        return None
    if is_gone(path) and path[1].isdecimal():
        return int(path[1])
    found = tree.at(path)
    if found is None:
        raise NotPossible(f"The pool {' / '.join(path)} is no longer there.", "Choose another.")
    return found


def core_plan(said: dict[str, Any], tree: PoolTree) -> Plan:
    return Plan(**said | {"rows": [core_draw(row, tree) for row in said.get("rows", [])]})


def stored_plan(plan: Plan | None, tree: PoolTree) -> dict[str, Any] | None:
    return plan and plan.model_dump(mode="json") | {"rows": [stored_draw(row, tree) for row in plan.rows]}


def stored_settings(settings: Settings) -> dict[str, Any]:
    """What is said of a quiz, as JSON."""
    return settings.model_dump(mode="json", exclude_none=True)


def store(quiz: Quiz, wanted: CoreQuiz, tree: PoolTree, record: Recorder) -> None:
    """Brings the rows of a quiz to what the core's says, and records each that changes."""
    before = fields_of(quiz)
    quiz.title, quiz.settings = wanted.title[:300], stored_settings(wanted.settings)
    quiz.plan = stored_plan(wanted.plan, tree)
    quiz.save()
    record.changed("quiz", quiz, before)
    rows = {str(part.pk): part for part in quiz.parts.all()}
    kept = {part.id for part in wanted.parts}
    for key, row in rows.items():
        if key not in kept:
            record.delete([row])
    for position, part in enumerate(wanted.parts, 1):
        _store_part(quiz, rows.get(part.id), part, position, tree, record)


def _columns(part: CorePart, position: int, tree: PoolTree) -> dict[str, Any]:
    drawn = stored_draw(part.draw, tree) if part.draw else {"pool": None, "pick": 0, "alone": False, "where": [], "without": []}
    return {
        "kind": Part.Kind.DRAW if part.draw else Part.Kind.FIXED,
        "position": position,
        "title": part.title[:300],
        "instructions": part.instructions,
        "page_break": part.page_break,
        "pool_id": drawn.pop("pool"),
        **drawn,
        "picked_from": stored_draw(part.picked_from, tree) if part.picked_from else None,
        "points_each": part.points_each,
        "points": part.points,
    }


def _store_part(quiz: Quiz, row: Part | None, part: CorePart, position: int, tree: PoolTree, record: Recorder) -> None:
    values = _columns(part, position, tree)
    if row is None:
        row = Part.objects.create(quiz=quiz, **values)
        record.created("part", [row])
    else:
        before = fields_of(row)
        for name, value in values.items():
            setattr(row, name, value)
        row.save()
        record.changed("part", row, before)
    _store_items(row, [int(key) for key in part.items], record)


def _store_items(part: Part, wanted: Sequence[int], record: Recorder) -> None:
    known, kept = {entry.item_id: entry for entry in part.entries.all()}, set(wanted)
    record.delete(entry for key, entry in known.items() if key not in kept)
    fresh, moved = [], []
    for position, key in enumerate(wanted):
        entry = known.get(key)
        if entry is None:
            fresh.append(PartItem(part=part, item_id=key, position=position))
        elif entry.position != position:
            moved.append((entry, fields_of(entry)))
            entry.position = position
    record.save("partitem", moved)
    add_rows(fresh)
    record.created("partitem", PartItem.objects.filter(part=part, item__in=[entry.item_id for entry in fresh]))
