"""What quizzes are assembled from, asked of the database in as few queries as there are kinds of questions to it."""

from __future__ import annotations

import hashlib
from collections import Counter, defaultdict
from collections.abc import Iterable

from django.db.models import Aggregate, Avg, CharField, Count, Q, QuerySet

from rogatum.core.items.parts import WITH_ORDER
from rogatum.core.quizzes.attempt import Shared
from rogatum.core.quizzes.catalogue import Catalogue, Lot, Path
from rogatum.core.quizzes.criteria import Draw
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.core.quizzes.sums import Passage
from rogatum.core.quizzes.timing import load_of
from rogatum.web.courses.models import Course
from rogatum.web.pools.bodies import parts_of, passage_of
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.models import PartItem

KIND = ("pool_id", "type", "points", "outcome", "difficulty")


class Joined(Aggregate):
    """The values of a group as one text, parted by commas."""

    function = "GROUP_CONCAT"
    output_field = CharField()


def draws_of(quizzes: Iterable[CoreQuiz]) -> list[Draw]:
    return [part.draw for quiz in quizzes for part in quiz.parts if part.draw]


def pools_of(draws: Iterable[Draw], tree: PoolTree) -> set[int] | None:
    """The pools that draws are from; None for all of the course."""
    pools: set[int] = set()
    for draw in draws:
        if not draw.pool:
            return None
        key = tree.at(draw.pool)
        if key is not None:
            pools.update([key] if draw.alone else tree.below(key))
    return pools


def _drawn(course: Course | int, draws: Iterable[Draw], tree: PoolTree) -> QuerySet[Item]:
    pools = pools_of(draws, tree)
    rows = Item.objects.filter(course=course).order_by()
    return rows if pools is None else rows.filter(pool_id__in=pools)


def catalogue_for(quizzes: Iterable[CoreQuiz], course: Course | int, tree: PoolTree, also: Iterable[Draw] = ()) -> Catalogue:
    """What quizzes of a course are assembled from, and what draws `also` are from: two queries, whatever their number."""
    quizzes = list(quizzes)
    draws = [*draws_of(quizzes), *also]
    pools: dict[Path, list[Lot]] = defaultdict(list)
    if draws:
        groups = _drawn(course, draws, tree).values(*KIND).annotate(ids=Joined("id"), time=Avg("seconds"), length=Avg("words"))
        for pool, kind, points, outcome, difficulty, ids, time, length in groups.values_list(*KIND, "ids", "time", "length"):
            lot = _lot(tuple(ids.split(",")), kind, points, outcome, difficulty, time, length, tree.path(pool))
            pools[lot.path].append(lot)
    fixed = {key for quiz in quizzes for key in quiz.item_ids()}
    return Catalogue(_singles(fixed, course, tree), pools, _own_orders(quizzes, course, tree))


def _own_orders(quizzes: Iterable[CoreQuiz], course: Course | int, tree: PoolTree) -> dict[str, bool]:
    """Of items of quizzes that say whether choices are shuffled, what those say that set it themselves."""
    asked = [quiz for quiz in quizzes if quiz.settings.shuffle_choices is not None]
    if not asked:
        return {}
    pools = pools_of(draws_of(asked), tree)
    where = Q() if pools is None else Q(pk__in=[int(key) for quiz in asked for key in quiz.item_ids()]) | Q(pool_id__in=pools)
    said = Q(body__shuffle=True) | Q(body__shuffle=False)
    rows = Item.objects.filter(where, said, course=course, type__in=WITH_ORDER).order_by()
    return {str(key): mixed for key, mixed in rows.values_list("id", "body__shuffle")}


def _singles(keys: set[str], course: Course | int, tree: PoolTree) -> dict[str, Lot]:
    if not keys:
        return {}
    rows = Item.objects.filter(course=course, pk__in=[int(key) for key in keys]).order_by()
    return {
        str(key): _lot((str(key),), kind, points, outcome, difficulty, time, length, tree.path(pool))
        for key, pool, kind, points, outcome, difficulty, time, length in rows.values_list("id", *KIND, "seconds", "words")
    }


def _lot(
    ids: tuple[str, ...], kind: str, points: float | None, outcome: str, difficulty: str, time: float, length: float, path: Path
) -> Lot:
    outcomes, difficulties = parts_of("outcome", outcome), parts_of("difficulty", difficulty)
    return Lot(ids, kind, points, tuple(outcomes), tuple(difficulties), time, length, path)  # type: ignore[arg-type]


def uses_of(course: Course | int, but: int | None = None) -> dict[str, int]:
    """In how many quizzes of a course items stand as fixed ones, for those that stand in any; `but` for one quiz."""
    rows = PartItem.objects.filter(part__quiz__course=course)
    if but is not None:
        rows = rows.exclude(part__quiz=but)
    counted = rows.order_by().values("item_id").annotate(uses=Count("part__quiz", distinct=True))
    return {str(key): uses for key, uses in counted.values_list("item_id", "uses")}


def passages_in(course: Course | int, keys: Iterable[str]) -> dict[str, Shared]:
    """The passages of items that have one, by the item, with its place in its pool."""
    rows = Item.objects.filter(course=course, pk__in=[int(key) for key in keys], stimulus__isnull=False)
    ordered = rows.order_by("position", "id").values_list("id", "stimulus")
    return {str(key): Shared(_name(passage_of(stimulus)), place) for place, (key, stimulus) in enumerate(ordered)}


def _name(passage: str) -> str:
    return hashlib.sha256(passage.encode()).hexdigest()[:16]


def passages_of(quizzes: Iterable[CoreQuiz], course: Course | int, tree: PoolTree) -> list[Passage]:
    """The passages of all that quizzes can give, with the items that share each."""
    quizzes = list(quizzes)
    fixed = [int(key) for quiz in quizzes for key in quiz.item_ids()]
    pools = pools_of(draws_of(quizzes), tree)
    where = Q(pk__in=fixed) | (Q() if pools is None else Q(pool_id__in=pools))
    rows = Item.objects.filter(where, course=course, stimulus__isnull=False).order_by().values_list("id", "stimulus")
    held: dict[str, set[str]] = defaultdict(set)
    for key, stimulus in rows:
        held[passage_of(stimulus)].add(str(key))
    return [Passage(load_of(content), frozenset(keys)) for content, keys in held.items() if content]


def traits_of(
    quiz: CoreQuiz, course: Course | int, tree: PoolTree, names: tuple[str, ...], can_give: set[str]
) -> Counter[tuple[str, ...]]:
    """How many of the items that a quiz can give have which values in some columns."""
    fixed = Item.objects.filter(course=course, pk__in=[int(key) for key in quiz.item_ids()]).order_by()
    asked = [fixed, _drawn(course, draws_of([quiz]), tree)] if draws_of([quiz]) else [fixed]
    found: dict[str, tuple[str, ...]] = {}
    for rows in asked:
        for *values, ids in rows.values(*names).annotate(ids=Joined("id")).values_list(*names, "ids"):
            found.update(dict.fromkeys(ids.split(","), tuple(values)))
    return Counter(values for key, values in found.items() if key in can_give)
