"""Quizzes carried on: to another section, or copied into another term or course, with their pools linked or copied."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any, Literal

from django.shortcuts import get_object_or_404

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
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools import many
from rogatum.web.pools.models import Item
from rogatum.web.pools.services import pools_at
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


@dataclass(frozen=True)
class Way:
    """How quizzes are carried on: so far in time, with the pools that they draw from linked where they are there or copied."""

    weeks: int = 0
    days: int = 0
    pools: Pools = "linked"
    with_exceptions: bool = False


def carry(quizzes: Sequence[Quiz], user: Any, target: Course, way: Way) -> tuple[list[Quiz], Job | None]:
    """Copies quizzes of one course into a course, with all dates moved on the clocks of that course: one operation.

    What they draw from is linked, where it is there, or copied. Returns the copies, or the job that makes them where they bring
    many items.
    """
    if not quizzes:
        raise NotPossible("There is nothing to carry on.", "Choose a quiz.", status=422)
    source = quizzes[0].course
    must(all(quiz.course_id == source.pk for quiz in quizzes) and courses.can_see(user, source))
    courses.must_edit(user, target)
    named = f"{quizzes[0].title}" if len(quizzes) == 1 else f"{len(quizzes)} quizzes"
    carrying = _Carrying(quizzes, source, target, way)
    if len(carrying.fresh) > many.AT_ONCE:
        said = {"quizzes": [quiz.pk for quiz in quizzes], "from": source.pk, "way": asdict(way), "named": named}
        return [], start_job(target, user, "carry-quizzes", f"Carry {named} on", said)
    copying = carrying.found_out(carrying.fresh)
    with Recorder(target, user, f"Carried {named} on") as record:
        carrying.bring(copying, record)
        return carrying.written(record), None


@work("carry-quizzes", lane=CHANGING)
def carry_work(job: Job, at_work: AtWork) -> None:
    """First the items that the quizzes bring, in short transactions, then the quizzes."""
    said = job.arguments
    source = get_object_or_404(courses.courses_for(job.user), pk=said["from"])
    there = Quiz.objects.filter(course=source).in_bulk(said["quizzes"])
    if len(there) < len(said["quizzes"]):
        raise NotPossible("A quiz that was to be carried on was deleted in the meantime.", "Choose the quizzes again.")
    carrying = _Carrying([there[key] for key in said["quizzes"]], source, job.course, Way(**said["way"]))
    staged = Staged(at_work, f"Carried {said['named']} on")
    for part in staged.each(carrying.fresh, many.STEP):
        copying = carrying.found_out(part)
        with staged.step() as record:
            carrying.bring(copying, record)
    with staged.finishing() as (record, finish):
        finish({"quizzes": [quiz.pk for quiz in carrying.written(record)]})


class _Carrying:
    """Quizzes on their way into a course: what they bring is found before anything is written."""

    def __init__(self, quizzes: Sequence[Quiz], source: Course, target: Course, way: Way) -> None:
        self.quizzes, self.source, self.target, self.way = quizzes, source, target, way
        self.anew = source.pk != target.pk or way.pools == "copied"
        self.tree = PoolTree(source)
        self.home = _Home(_values(quizzes, self.tree))
        title = self.home.quizzes[0].title if self.home.quizzes else ""
        self.head = () if source.pk != target.pk else (title or "Copies",)
        # The items that the course has not, in their order.
        self.fresh: list[int] = []
        self.wanted: set[int] = set()
        if self.anew:
            self._find()

    def _find(self) -> None:
        """Finds what the course has of the items and pools that the quizzes use, and what is to be brought."""
        home, there = self.home, PoolTree(self.target)
        draws = [draw for quiz in home.quizzes for part in quiz.parts for draw in (part.draw, part.picked_from) if draw]
        draws += [row for quiz in home.quizzes if quiz.plan for row in quiz.plan.rows]
        catalogue = catalogue_for(home.quizzes, self.source, self.tree, draws)
        for draw in draws:
            path = tuple(draw.pool)
            home.paths[path] = (*GONE, "0") if is_gone(path) else (*self.head, *path)
        linked = {path for path in home.paths if self.way.pools == "linked" and there.at(path) is not None}
        self.wanted = {int(key) for draw in draws if tuple(draw.pool) not in linked for key in ids_of(catalogue.drawn_from(draw))}
        self.wanted |= {int(key) for quiz in home.quizzes for key in quiz.item_ids()}
        never = {int(key) for draw in draws for key in draw.without}
        rows = Item.objects.filter(course=self.source, pk__in=self.wanted | never).order_by("position", "id")
        digests = dict(rows.values_list("pk", "digest"))
        known = self._known(digests.values()) if self.way.pools == "linked" else {}
        home.items = {str(key): str(known[digest]) for key, digest in digests.items() if digest in known}
        self.fresh = [key for key, digest in digests.items() if digest not in known and key in self.wanted]

    def _known(self, digests: Iterable[str]) -> dict[str, int]:
        """The items of the course that are the same as some of another, by what they are."""
        rows = Item.objects.filter(course=self.target, digest__in=set(digests))
        return dict(rows.order_by("-id").values_list("digest", "id"))

    def found_out(self, keys: Sequence[int]) -> many.Copying:
        """These items, those of them that are still there, as they are to be copied."""
        rows = Item.objects.filter(course=self.source, pk__in=keys).order_by("position", "id")
        return many.Copying(rows, self.source, self.target)

    def bring(self, copying: many.Copying, record: Recorder) -> None:
        """Copies items into the pools that they lie in, below `head`."""
        paths = {row.pool_id: (*self.head, *self.tree.path(row.pool_id)) for row in copying.rows}
        pools = pools_at(self.target, paths.values(), record)
        made = copying.write(lambda row: pools[paths[row.pool_id]], record)
        self.home.items |= {str(row.pk): str(copy.pk) for row, copy in zip(copying.rows, made, strict=True)}

    def written(self, record: Recorder) -> list[Quiz]:
        """The quizzes in the course, within the operation that brought what they need."""
        way, same = self.way, self.source.pk == self.target.pk
        move = moving(way.weeks, zone_of(self.target), way.days)
        sections = set(self.target.sections.values_list("name", flat=True))
        made: dict[str, Quiz] = {}
        for core in self._values(record):
            wanted = carried(core.model_copy(update={"parts": _anew(core.parts)}), move, sections, way.with_exceptions)
            made[core.id] = add_quiz(self.target, _known_apart(wanted, made, same), record)
        return list(made.values())

    def _values(self, record: Recorder) -> list[CoreQuiz]:
        if not self.anew:
            return _values(self.quizzes, PoolTree(self.source))
        self._bring_again(record)
        pools_at(self.target, [there for path, there in self.home.paths.items() if path and not is_gone(path)], record)
        return [self.home.moved(core) for core in self.home.quizzes]

    def _bring_again(self, record: Recorder) -> None:
        """What the course had, or was brought, and somebody deleted meanwhile."""
        there = set(Item.objects.filter(course=self.target, pk__in=map(int, self.home.items.values())).values_list("pk", flat=True))
        lost = [key for key, at in self.home.items.items() if int(at) not in there]
        for key in lost:
            del self.home.items[key]
        self.bring(self.found_out([int(key) for key in lost if int(key) in self.wanted]), record)


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
