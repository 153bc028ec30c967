"""Between rows and the core's quizzes: what is stored of a quiz, and nothing that is computed of it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.db.models import Prefetch, Q, QuerySet

from rogatum.core.quizzes.catalogue import Candidate, Catalogue
from rogatum.core.quizzes.model import Draw, Settings
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Part, PartItem, Quiz

WITH_PARTS = Prefetch("parts", Part.objects.prefetch_related("entries"))


def with_parts(quizzes: QuerySet[Quiz]) -> QuerySet[Quiz]:
    """The quizzes with all that `core_quiz` wants of them, in as many queries whatever their number."""
    return quizzes.prefetch_related(WITH_PARTS)


def core_quiz(quiz: Quiz, tree: PoolTree) -> CoreQuiz:
    """The core's quiz of a row; parts and items have their rows' numbers as ids."""
    parts = [_core_part(part, tree) for part in quiz.parts.all()]
    return CoreQuiz(id=str(quiz.pk), title=quiz.title, parts=parts, settings=Settings(**quiz.settings))


def _core_part(part: Part, tree: PoolTree) -> CorePart:
    drawn = part.kind == Part.Kind.DRAW
    return CorePart(
        id=str(part.pk),
        title=part.title,
        items=[] if drawn else [str(entry.item_id) for entry in part.entries.all()],
        draw=Draw(pool=list(tree.path(part.pool_id)), pick=max(1, part.pick)) if drawn else None,
        points_each=part.points_each,
        points=part.points,
    )


def catalogue_for(quizzes: Iterable[CoreQuiz], course: Course | int, tree: PoolTree) -> Catalogue:
    """What the quizzes of a course are assembled from, in one query."""
    pools: set[int] = set()
    fixed: set[int] = set()
    for quiz in quizzes:
        fixed.update(int(key) for key in quiz.item_ids())
        for part in quiz.parts:
            key = tree.at(part.draw.pool) if part.draw else None
            pools.update(tree.below(key) if key is not None else ())
    rows = Item.objects.filter(Q(pool_id__in=pools) | Q(pk__in=fixed), course=course)
    items: dict[str, Candidate] = {}
    by_pool: dict[tuple[str, ...], list[str]] = {}
    for key, kind, points, outcome, pool in rows.values_list("id", "type", "points", "outcome", "pool_id"):
        outcomes = tuple(part.strip() for part in outcome.split(";") if part.strip())
        items[str(key)] = Candidate(str(key), kind, points, outcomes)
        if pool in pools:
            by_pool.setdefault(tree.path(pool), []).append(str(key))
    return Catalogue(items, by_pool)


def stored_settings(quiz: CoreQuiz) -> dict[str, Any]:
    """What is said of a quiz, as JSON."""
    return quiz.settings.model_dump(mode="json", exclude_none=True)


def store(quiz: Quiz, wanted: CoreQuiz, tree: PoolTree, record: Recorder) -> None:
    """Brings the rows of a quiz to what the core's says, and records each that changes."""
    before = fields_of(quiz)
    quiz.title, quiz.settings = wanted.title[:300], stored_settings(wanted)
    quiz.save()
    record.changed("quiz", quiz, before)
    rows = {str(part.pk): part for part in quiz.parts.all()}
    kept = {part.id for part in wanted.parts}
    for key, row in rows.items():
        if key not in kept:
            record.deleted("partitem", row.entries.all())
            record.deleted("part", [row])
            row.delete()
    for position, part in enumerate(wanted.parts, 1):
        _store_part(quiz, rows.get(part.id), part, position, tree, record)


def _store_part(quiz: Quiz, row: Part | None, part: CorePart, position: int, tree: PoolTree, record: Recorder) -> None:
    values = {
        "kind": Part.Kind.DRAW if part.draw else Part.Kind.FIXED,
        "position": position,
        "title": part.title[:300],
        "pool_id": tree.at(part.draw.pool) if part.draw else None,
        "pick": part.draw.pick if part.draw else 0,
        "points_each": part.points_each,
        "points": part.points,
    }
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
    gone = [entry for key, entry in known.items() if key not in kept]
    if gone:
        record.deleted("partitem", gone)
        PartItem.objects.filter(pk__in=[entry.pk for entry in gone]).delete()
    fresh = []
    for position, key in enumerate(wanted):
        entry = known.get(key)
        if entry is None:
            fresh.append(PartItem(part=part, item_id=key, position=position))
        elif entry.position != position:
            before = fields_of(entry)
            entry.position = position
            entry.save(update_fields=["position"])
            record.changed("partitem", entry, before)
    PartItem.objects.bulk_create(fresh)
    record.created("partitem", fresh)
