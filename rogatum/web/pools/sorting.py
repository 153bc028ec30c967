"""Sorting a pool item by item into others, with a suggestion; and splitting one into several at once."""

from __future__ import annotations

import itertools
import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.core.items.content import plain_text
from rogatum.core.pools.sorting import Sorter, Suggestion
from rogatum.core.pools.splitting import WAYS, Group, split_by, split_by_content
from rogatum.core.pools.words import Wording, wording_of
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course, Operation
from rogatum.web.courses.rules import must
from rogatum.web.database.steps import in_steps
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools import many
from rogatum.web.pools.bodies import core_item
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.rules import can_see, must_edit
from rogatum.web.pools.schemas import Selection
from rogatum.web.pools.services import check_name, count_words, last_place, selected
from rogatum.web.pools.sorting_schemas import NewPool
from rogatum.web.pools.tree import PoolTree

# How many items of each pool at hand are learned from, the newest first; and how many sortings are kept in mind.
LEARNED_FROM, KEPT = 400, 8
# How many of those that wait are looked at ahead, and what share of those at hand may be unknown before all are looked at anew.
MOST_AHEAD, STRANGE = 5000, 0.05
MOST_SPLIT = 5000


@dataclass(frozen=True)
class Next:
    """The next item of a sorting with its suggestions; none where all are sorted."""

    row: Item | None
    left: int
    suggestions: list[Suggestion] = field(default_factory=list)


def next_to_sort(pool: Pool, user: Any, pools: Sequence[int], skipped: Sequence[int]) -> Next:
    """The next item that lies in a pool itself, what was skipped last; and to which of the pools at hand it may belong."""
    must(can_see(user, pool))
    waiting = dict(Item.objects.filter(pool=pool).values_list("pk", "digest"))
    if not waiting:
        return Next(None, 0)
    later = set(skipped)
    key = next((key for key in waiting if key not in later), next((key for key in skipped if key in waiting), next(iter(waiting))))
    row = get_object_or_404(Item.objects.select_related("course"), pk=key)
    hands = {row.pk: row for row in Pool.objects.filter(course=pool.course, pk__in=pools).exclude(pk=pool.pk)}
    lying = _lying(pool.course, list(hands))
    sorter = _sorter_of(pool, key, waiting, {item: digest for item, (_, digest) in lying.items()})
    names = {hand.pk: _name_of(hand) for hand in hands.values()}
    return Next(row, len(waiting), sorter.suggest(key, {item: into for item, (into, _) in lying.items()}, names))


def _lying(course: Course, hands: Sequence[int]) -> dict[int, tuple[int, str]]:
    """The pool at hand and the digest of each item that lies in one, or below it: the newest of each."""
    tree, found = PoolTree(course), dict[int, tuple[int, str]]()
    for hand in hands:
        below = [key for key in tree.below(hand) if key == hand or key not in hands]
        rows = Item.objects.filter(pool_id__in=below).order_by("-updated", "-pk").values_list("pk", "digest")[:LEARNED_FROM]
        found |= {key: (hand, digest) for key, digest in rows}
    return found


def _name_of(pool: Pool) -> Wording:
    """A pool's name, and the texts of the course's outcomes whose codes it names."""
    words = pool.name.split()
    said = [outcome for outcome in pool.course.outcomes if outcome["code"] in words]
    return Wording(" ".join([pool.name, *(outcome["text"] for outcome in said)]), tuple(("outcome", o["code"]) for o in said))


class _Minds:
    """What was learned to see of the items of a sorting, kept for its next step; it can be made anew at any time."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[int, int], tuple[dict[int, str], Sorter]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, pool: tuple[int, int]) -> tuple[dict[int, str], Sorter | None]:
        """The items that are known of a pool's sorting, with their digests, and who knows them."""
        with self._lock:
            if pool not in self._kept:
                return {}, None
            self._kept.move_to_end(pool)
            return self._kept[pool]

    def keep(self, pool: tuple[int, int], items: dict[int, str], sorter: Sorter) -> None:
        with self._lock:
            self._kept[pool] = (items, sorter)
            while len(self._kept) > KEPT:
                self._kept.popitem(last=False)


_minds = _Minds()


def _sorter_of(pool: Pool, key: int, waiting: dict[int, str], lying: dict[int, str]) -> Sorter:
    """Who knows the next item and nearly all that lie in the pools at hand; made anew where something else came."""
    place = (pool.course_id, pool.pk)
    known, sorter = _minds.of(place)
    strange = sum(known.get(item) != digest for item, digest in lying.items())
    if sorter is not None and known.get(key) == waiting[key] and strange <= STRANGE * len(lying):
        return sorter
    # Of very many that wait, those that come next.
    ahead = dict(itertools.islice(waiting.items(), MOST_AHEAD)) | {key: waiting[key]}
    sorter = Sorter(wordings_of(pool.course, list(ahead | lying)))
    _minds.keep(place, ahead | lying, sorter)
    return sorter


def wordings_of(course: Course, keys: Sequence[int]) -> dict[int, Wording]:
    """What items are about, by their keys: their words, and the texts of the course's outcomes that they name."""
    texts = {outcome["code"]: outcome["text"] for outcome in course.outcomes}
    found: dict[int, Wording] = {}
    for start in range(0, len(keys), 500):
        for row in Item.objects.filter(course=course, pk__in=keys[start : start + 500]).order_by("position", "pk"):
            told = wording_of(core_item(row))
            named = [texts[value] for label, value in told.said if label == "outcome" and value in texts]
            found[row.pk] = Wording(told.text, told.said, " ".join(named))
    return found


def send(pool: Pool, user: Any, item: int, to: Pool) -> Operation:
    """Sends an item of a pool to another of the same course; returns the operation that did, which can be undone."""
    must_edit(user, pool)
    must_edit(user, to)
    if to.course_id != pool.course_id:
        raise NotPossible("That pool belongs to another course.", "Choose a pool of this course.")
    row = get_object_or_404(Item, pk=item, course=pool.course)
    with Recorder(pool.course, user, f"Sorted “{row.text[:60]}” into {to.name}") as record:
        record.current(row)
        if row.pool_id != pool.pk or to.pk == pool.pk:
            raise NotPossible("This item does not lie here any more, or is to stay.", "Go on with the next one.")
        record.set_field("item", [(row.pk, row.pool_id)], "pool_id", to.pk)
        Item.objects.filter(pk=row.pk).update(pool=to)
    assert record.operation is not None  # a pool that is another was recorded
    return record.operation


# Splitting


def propose_split(
    course: Course, user: Any, selection: Selection, by: str, count: int | None
) -> tuple[list[Group], dict[int, str]]:
    """Groups of a selection, and the texts of their examples. Raises NotPossible where it holds too many for one look."""
    must(courses.can_see(user, course))
    keys = list(selected(course, selection).values_list("pk", flat=True)[: MOST_SPLIT + 1])
    if len(keys) > MOST_SPLIT:
        raise NotPossible(f"These are more than {MOST_SPLIT:,} items.", "Choose a pool or a filter that holds fewer.", status=422)
    if not keys:
        raise NotPossible("There is nothing to split.", "Select items, or choose a pool that has some.", status=422)
    groups = _groups(course, keys, by, count)
    shown = [key for group in groups for key in group.examples]
    return groups, dict(Item.objects.filter(pk__in=shown).values_list("pk", "text"))


def _groups(course: Course, keys: list[int], by: str, count: int | None) -> list[Group]:
    if by == "content":
        return split_by_content(wordings_of(course, keys), count)
    if by == "source":
        rows = Item.objects.filter(course=course, pk__in=keys).values_list("pk", "source")
        return split_by(dict(rows), "no source")
    values = {row.pk: WAYS[by](core_item(row)) for row in Item.objects.filter(course=course, pk__in=keys)}
    texts = {outcome["code"]: outcome["text"] for outcome in course.outcomes} if by == "outcome" else {}
    named = {key: f"{value} {texts[value]}" if texts.get(value) else value for key, value in values.items()}
    return split_by(named, f"no {by}")


def split_into(course: Course, user: Any, below: Pool | None, pools: Sequence[NewPool]) -> tuple[int, Job | None]:
    """Makes a pool of each group, below one or at the top, and moves its items there.

    Returns how many items, and the job that moves them where they are many.
    """
    courses.must_edit(user, course)
    if below is not None and below.course_id != course.pk:
        raise NotPossible("That pool belongs to another course.", "Choose a pool of this course.")
    named = [item for wanted in pools for item in wanted.items]
    if len(set(named)) < len(named):
        raise NotPossible("An item is in two of the groups.", "Leave it in one of them.", status=422)
    if len(named) > many.AT_ONCE:
        said = {"below": below and below.pk, "pools": [wanted.model_dump(mode="json") for wanted in pools]}
        return len(named), start_job(course, user, "split", f"Split {count_words(len(named))} into {len(pools)} pools", said)
    with Recorder(course, user, "") as record:
        below = record.current(below) if below else None
        made = [_new_pool(course, below, wanted.name, record) for wanted in pools]
        moved = sum(_move(course, wanted.items, pool, record) for wanted, pool in zip(pools, made, strict=True))
        record.label = f"Split {count_words(moved)} into {len(pools)} pools"
    return moved, None


def _new_pool(course: Course, below: Pool | None, name: str, record: Recorder) -> Pool:
    check_name(course, name, below)
    made = Pool.objects.create(course=course, parent=below, name=plain_text(name)[:300], position=last_place(course, below))
    record.created("pool", [made])
    return made


def _move(course: Course, keys: Sequence[int], pool: Pool, record: Recorder) -> int:
    return many.move_rows(Item.objects.filter(course=course, pk__in=keys), pool, record)


@work("split", lane=CHANGING)
def split_work(job: Job, at_work: AtWork) -> None:
    """First the pools, then their items, in short transactions."""
    said, course = job.arguments, job.course
    pools = [NewPool(**wanted) for wanted in said["pools"]]
    below = get_object_or_404(Pool, pk=said["below"], course=course) if said["below"] else None
    staged, moved = Staged(at_work, job.label), 0
    with staged.step() as record:
        below = record.current(below) if below else None
        made = [_new_pool(course, below, wanted.name, record) for wanted in pools]
    of = sum(len(wanted.items) for wanted in pools)
    for wanted, pool in zip(pools, made, strict=True):
        for part in in_steps(wanted.items, many.STEP):
            with staged.step() as record:
                moved += _move(course, part, record.current(pool), record)
            at_work.progress(moved, of)
    with staged.finishing() as (record, finish):
        record.label = f"Split {count_words(moved)} into {len(pools)} pools"
        finish({"count": moved})
