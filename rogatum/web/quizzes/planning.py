"""Picking by plan: what of it can be met, the parts that it makes, and items put back and drawn anew."""

from __future__ import annotations

import secrets
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from rogatum.core.quizzes import editing
from rogatum.core.quizzes.catalogue import Catalogue, ids_of
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.core.quizzes.plan import Plan
from rogatum.core.quizzes.planning import RowPicks, picks_by, planned_parts, rows_for, shortage_words, with_plan
from rogatum.core.quizzes.replacing import like_ones, next_from
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import Part, Quiz
from rogatum.web.quizzes.rules import can_see, must_edit
from rogatum.web.quizzes.services import changed
from rogatum.web.quizzes.stock import catalogue_for, uses_of
from rogatum.web.quizzes.storing import core_quiz, quiz_now, with_parts

WAY_OUT = "Ask for fewer, or widen where they come from."


@dataclass(frozen=True)
class Picking:
    """A plan held against the course: what each row gets, and what it makes."""

    plan: Plan
    picks: list[RowPicks]
    apart: frozenset[str]
    catalogue: Catalogue

    @property
    def told(self) -> str:
        return shortage_words(self.picks)


def _picking(quiz: Quiz, core: CoreQuiz, plan: Plan, tree: PoolTree) -> Picking:
    """The items that a plan gets now, apart from those of the quizzes that it names and those put in by hand."""
    others = _others(quiz, plan, tree)
    catalogue = catalogue_for(others, quiz.course_id, tree, plan.rows)
    apart = _given_by(others, catalogue)
    by_hand = frozenset(key for part in core.parts if part.picked_from is None for key in part.items)
    return Picking(plan, picks_by(plan, catalogue, apart, uses_of(quiz.course_id, quiz.pk), by_hand), apart, catalogue)


def _others(quiz: Quiz, plan: Plan, tree: PoolTree) -> list[CoreQuiz]:
    """The quizzes whose items a plan leaves out."""
    named = Quiz.objects.filter(course=quiz.course_id, pk__in=[int(key) for key in plan.apart_from if key.isdecimal()])
    return [core_quiz(row, tree) for row in with_parts(named.exclude(pk=quiz.pk))]


def _given_by(quizzes: Iterable[CoreQuiz], catalogue: Catalogue) -> frozenset[str]:
    """All that quizzes can give."""
    return frozenset(key for quiz in quizzes for part in quiz.parts for key in ids_of(catalogue.given_by(part)))


def look(quiz: Quiz, user: Any, plan: Plan) -> Picking:
    """What of a plan can be met; nothing is changed."""
    must(can_see(user, quiz))
    tree = PoolTree(quiz.course_id)
    return _picking(quiz, quiz_now(quiz.pk, tree), plan, tree)


def apply_plan(quiz: Quiz, user: Any, plan: Plan) -> Quiz:
    """Makes the parts that a plan asks for, in the place of those that it made before. Raises NotPossible where it gives none."""
    plan = plan if plan.seed else plan.model_copy(update={"seed": secrets.token_hex(4)})

    def change(core: CoreQuiz) -> CoreQuiz:
        tree = PoolTree(quiz.course_id)
        found = _picking(quiz, core, plan, tree)
        made = planned_parts(plan, found.picks, found.apart, found.catalogue)
        if not made:
            raise NotPossible("The plan gets no items.", WAY_OUT, status=422)
        return with_plan(core, plan, made)

    return changed(quiz, user, f"Picked the items of {quiz.title} by plan", change)


def rows_by_weight(quiz: Quiz, user: Any, total: int, pools: Sequence[int], equally: bool) -> list[Draw]:
    """A total shared out over pools of the course, by what they hold."""
    must(can_see(user, quiz))
    tree = PoolTree(quiz.course_id)
    paths = [tree.path(pool) for pool in dict.fromkeys(pools)]
    must(all(paths))
    catalogue = catalogue_for([], quiz.course_id, tree, [Draw(pool=list(path), pick=1) for path in paths])
    return rows_for(total, paths, catalogue, equally)


def alike(quiz: Quiz, user: Any, item: Item) -> list[Item]:
    """Items that could stand for a fixed one, the most like first."""
    must(can_see(user, quiz) and item.course_id == quiz.course_id)
    tree = PoolTree(quiz.course_id)
    core = quiz_now(quiz.pk, tree)
    part = next((part for part in core.parts if str(item.pk) in part.items), None)
    if part is None:
        raise NotPossible("The quiz does not have this item any more.", "Load the page again.")
    source = part.picked_from or Draw(pool=list(tree.path(item.pool_id)), pick=1)
    catalogue = catalogue_for([core], quiz.course_id, tree, [source])
    keys = like_ones(str(item.pk), part, catalogue, core.item_ids(), uses_of(quiz.course_id, quiz.pk))
    rows = Item.objects.in_bulk([int(key) for key in keys])
    return [rows[int(key)] for key in keys]


def draw_again(part: Part, user: Any, item: int | None) -> Quiz:
    """Another item for one that a plan picked, or one more where one was put back. Raises NotPossible where none is left."""
    quiz = part.quiz
    must_edit(user, quiz)

    def change(core: CoreQuiz) -> CoreQuiz:
        tree = PoolTree(quiz.course_id)
        here = core.parts[editing.place_of(core, str(part.pk))]
        if here.picked_from is None:
            raise NotPossible("No plan picked this part.", "Replace its items one by one.", status=422)
        others = _others(quiz, core.plan or Plan(), tree)
        catalogue = catalogue_for([core, *others], quiz.course_id, tree, [here.picked_from])
        never = _given_by(others, catalogue).union(core.item_ids())
        by = next_from(here.picked_from, catalogue, never, uses_of(quiz.course_id, quiz.pk), secrets.token_hex(4))
        if by is None:
            raise NotPossible(f"Nothing else is left of what {here.title} was picked from.", WAY_OUT)
        return editing.with_item(core, here.id, by) if item is None else editing.with_replaced(core, str(item), by)

    return changed(quiz, user, f"Drew an item of {quiz.title} anew", change)
