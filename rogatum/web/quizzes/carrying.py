"""Quizzes carried on: to another section, or copied into another term or course, with their pools linked or copied."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from rogatum.core.quizzes.carrying import carried, for_section, moving
from rogatum.core.quizzes.catalogue import ids_of
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Part as CorePart
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.pools.many import copy_rows
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.services import pool_at
from rogatum.web.pools.tree import Path, PoolTree
from rogatum.web.quizzes.models import Quiz
from rogatum.web.quizzes.rules import must_edit
from rogatum.web.quizzes.services import add_quiz, changed, zone_of
from rogatum.web.quizzes.stock import catalogue_for
from rogatum.web.quizzes.storing import GONE, core_quiz, is_gone, with_parts

Pools = Literal["linked", "copied"]


def give_section(quizzes: Sequence[Quiz], user: Any, section: str, weeks: int, days: int) -> list[Quiz]:
    """Gives a section of the course dates of its own in quizzes: theirs, moved."""
    found = []
    for quiz in quizzes:
        must_edit(user, quiz)
        if not quiz.course.sections.filter(name=section).exists():
            raise NotPossible(f"The course has no section {section}.", "Name it among the sections first.", status=422)
        move = moving(weeks, zone_of(quiz.course), days)
        found.append(changed(quiz, user, f"Dates of {quiz.title} for {section}", lambda core: for_section(core, section, move)))  # noqa: B023
    return found


def carry(
    quizzes: Sequence[Quiz], user: Any, target: Course, weeks: int, days: int, pools: Pools, with_exceptions: bool
) -> list[Quiz]:
    """Copies quizzes of one course into a course, with all dates moved on the clocks of that course: one operation.

    What they draw from is linked, where it is there, or copied.
    """
    if not quizzes:
        raise NotPossible("There is nothing to carry on.", "Choose a quiz.", status=422)
    source = quizzes[0].course
    must(all(quiz.course_id == source.pk for quiz in quizzes) and courses.can_see(user, source))
    courses.must_edit(user, target)
    move, sections = moving(weeks, zone_of(target), days), set(target.sections.values_list("name", flat=True))
    with Recorder(target, user, "") as record:
        named = f"{quizzes[0].title}" if len(quizzes) == 1 else f"{len(quizzes)} quizzes"
        record.label = f"Carried {named} on"
        values = _values(quizzes, PoolTree(source))
        if source.pk != target.pk or pools == "copied":
            values = _brought(values, source, target, pools, record)
        made: dict[str, Quiz] = {}
        for core in values:
            wanted = carried(core.model_copy(update={"parts": _anew(core.parts)}), move, sections, with_exceptions)
            made[core.id] = add_quiz(target, _known_apart(wanted, made, source.pk == target.pk), record)
    return list(made.values())


def _known_apart(quiz: CoreQuiz, made: dict[str, Quiz], same_course: bool) -> CoreQuiz:
    """The quiz with a plan that names the copies of the quizzes that it left out, where they were carried on before it."""
    if quiz.plan is None:
        return quiz
    kept = [str(made[key].pk) if key in made else key for key in quiz.plan.apart_from if key in made or same_course]
    return quiz.model_copy(update={"plan": quiz.plan.model_copy(update={"apart_from": kept})})


@dataclass
class _Home:
    """Quizzes with where what they hold is in the course that they go to: items by their ids, pools by their paths."""

    quizzes: list[CoreQuiz]
    items: dict[str, str] = field(default_factory=dict)
    paths: dict[Path, Path] = field(default_factory=dict)

    def moved(self, quiz: CoreQuiz) -> CoreQuiz:
        """The quiz by the ids and paths that all of it has there; what is not there is not left out of draws either."""
        plan = quiz.plan and quiz.plan.model_copy(update={"rows": [self._draw(row) for row in quiz.plan.rows]})
        return quiz.model_copy(update={"parts": [self._part(part) for part in quiz.parts], "plan": plan})

    def _part(self, part: CorePart) -> CorePart:
        said = {
            "items": [self.items[item] for item in part.items if item in self.items],
            "points": {self.items[item]: points for item, points in part.points.items() if item in self.items},
            "draw": part.draw and self._draw(part.draw),
            "picked_from": part.picked_from and self._draw(part.picked_from),
        }
        return part.model_copy(update=said)

    def _draw(self, draw: Draw) -> Draw:
        never = [self.items[item] for item in draw.without if item in self.items]
        return draw.model_copy(update={"pool": list(self.paths[tuple(draw.pool)]), "without": never})


def _values(quizzes: Sequence[Quiz], tree: PoolTree) -> list[CoreQuiz]:
    """Quizzes as values, in the order in which they were chosen."""
    order = {quiz.pk: place for place, quiz in enumerate(quizzes)}
    rows = sorted(with_parts(Quiz.objects.filter(pk__in=order)), key=lambda quiz: order[quiz.pk])
    return [core_quiz(quiz, tree) for quiz in rows]


def _anew(parts: Iterable[CorePart]) -> list[CorePart]:
    """Parts for a quiz that is not stored yet."""
    return [part.model_copy(update={"id": ""}) for part in parts]


def _brought(values: list[CoreQuiz], source: Course, target: Course, pools: Pools, record: Recorder) -> list[CoreQuiz]:
    """Quizzes by what a course has of the items and pools that they use; what it has not is brought."""
    home = _Home(values)
    head = () if source.pk != target.pk else (values[0].title or "Copies",)
    _bring(home, source, target, PoolTree(source), head, pools, record)
    return [home.moved(core) for core in values]


def _bring(home: _Home, source: Course, target: Course, tree: PoolTree, head: Path, pools: Pools, record: Recorder) -> None:
    """Links or copies the items that quizzes hold, and the pools that they draw from, below `head`."""
    draws = [draw for quiz in home.quizzes for part in quiz.parts for draw in (part.draw, part.picked_from) if draw]
    draws += [row for quiz in home.quizzes if quiz.plan for row in quiz.plan.rows]
    catalogue, there = catalogue_for(home.quizzes, source, tree, draws), PoolTree(target)
    linked: set[Path] = set()
    for draw in draws:
        path = tuple(draw.pool)
        home.paths[path] = (*GONE, "0") if is_gone(path) else (*head, *path)
        if pools == "linked" and there.at(path) is not None:
            linked.add(path)
    wanted = {key for draw in draws if tuple(draw.pool) not in linked for key in ids_of(catalogue.drawn_from(draw))}
    wanted |= {key for quiz in home.quizzes for key in quiz.item_ids()}
    rows = list(Item.objects.filter(course=source, pk__in=[int(key) for key in wanted]).order_by("position", "id"))
    never = {int(key) for draw in draws for key in draw.without} - {row.pk for row in rows}
    unused = list(Item.objects.filter(course=source, pk__in=never))
    known = _known(target, [*rows, *unused]) if pools == "linked" else {}
    fresh = [row for row in rows if row.digest not in known]
    made_pools: dict[int, Pool] = {}

    def pool_of(row: Item) -> Pool:
        if row.pool_id not in made_pools:
            made_pools[row.pool_id] = pool_at(target, [*head, *tree.path(row.pool_id)], record)
        return made_pools[row.pool_id]

    copies = copy_rows(fresh, source, target, pool_of, record)
    home.items = {str(row.pk): str(known[row.digest]) for row in [*rows, *unused] if row.digest in known}
    home.items |= {str(row.pk): str(copy.pk) for row, copy in zip(fresh, copies, strict=True)}
    for draw in draws:
        if draw.pool and not is_gone(draw.pool):
            pool_at(target, home.paths[tuple(draw.pool)], record)


def _known(target: Course, rows: Iterable[Item]) -> dict[str, int]:
    """The items of a course that are the same as some of another, by what they are."""
    digests = {row.digest for row in rows}
    return dict(Item.objects.filter(course=target, digest__in=digests).order_by("-id").values_list("digest", "id"))
