"""Near-duplicates over all courses that an account may see: looked for by a job, decided pair by pair, and remembered."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum.core.items import item_from
from rogatum.core.items.differences import Line, differences
from rogatum.core.items.identity import words_of
from rogatum.core.items.parts import content_fields
from rogatum.core.pools.duplicates import near_pairs
from rogatum.core.pools.merging import MergedItem, merged
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import copy_media, media_named, media_size
from rogatum.web.database.steps import in_steps
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import READING, AtWork, start_job, work
from rogatum.web.pools.bodies import columns_of, core_item
from rogatum.web.pools.models import Item, LikePair, Pool
from rogatum.web.pools.rules import must_edit
from rogatum.web.pools.services import quizzes_using
from rogatum.web.pools.tree import PoolTree

BATCH = 500
# The most alike are kept; whoever has decided those looks again.
MOST_PAIRS = 20_000


def start_looking(course: Course, user: Any) -> Job:
    """Looks for pairs among all items that an account may see, from a course that it may change."""
    courses.must_edit(user, course)
    waiting = Job.objects.filter(user__pk=user.pk, course=course, work="alike", state__in=(Job.State.WAITING, Job.State.RUNNING))
    # Whoever asks again while it is looked for gets the same look.
    return waiting.first() or start_job(course, user, "alike", "Look for near-duplicates in all courses", {})


@work("alike", lane=READING, changes=False)
def alike_work(job: Job, at_work: AtWork) -> None:
    """Finds the pairs anew; what was decided about a pair holds as long as both its items are as they were."""
    seen = Item.objects.filter(course__in=courses.courses_for(job.user)).exclude(type="information").order_by("pk")
    texts, digests = {}, {}
    for key, digest, body in seen.values_list("pk", "digest", "body").iterator(chunk_size=BATCH):
        texts[key], digests[key] = words_of(item_from(body)), digest
    pairs = near_pairs(texts, progress=at_work.progress)[:MOST_PAIRS]
    decided = dict(LikePair.objects.filter(user=job.user).exclude(decision="").values_list("digests", "decision"))
    found = {
        (pair.a, pair.b): LikePair(
            user=job.user,
            a_id=pair.a,
            b_id=pair.b,
            percent=pair.percent,
            digests=_digests(digests[pair.a], digests[pair.b]),
            decision=decided.get(_digests(digests[pair.a], digests[pair.b]), ""),
        )
        for pair in pairs
    }
    _keep_pairs(job.user, found, at_work)
    with at_work.finishing() as done:
        kept = LikePair.objects.filter(user=job.user)
        done({"pairs": kept.count(), "open": kept.filter(decision="").count()})


def _keep_pairs(user: Any, found: dict[tuple[int, int], LikePair], at_work: AtWork) -> None:
    """Brings the pairs of an account to what was found, in short transactions; those that are as they were stay."""
    rows = LikePair.objects.filter(user=user).values_list("pk", "a", "b", "digests", "percent")
    same, gone = set[tuple[int, int]](), list[int]()
    for key, a, b, digests, percent in rows:
        pair = found.get((a, b))
        if pair is not None and (pair.digests, pair.percent) == (digests, percent):
            same.add((a, b))
        else:
            gone.append(key)
    for part in in_steps(gone, BATCH):
        with at_work.step():
            LikePair.objects.filter(pk__in=part).delete()
    for fresh in in_steps((pair for key, pair in found.items() if key not in same), BATCH):
        with at_work.step():
            there = set(Item.objects.filter(pk__in={key for p in fresh for key in (p.a_id, p.b_id)}).values_list("pk", flat=True))
            LikePair.objects.bulk_create(p for p in fresh if p.a_id in there and p.b_id in there)


def _digests(a: str, b: str) -> str:
    return "-".join(sorted((a, b)))


def pairs_for(user: Any) -> QuerySet[LikePair]:
    """The pairs of an account of which it may still see both sides."""
    mine = courses.courses_for(user)
    rows = LikePair.objects.filter(user__pk=user.pk, a__course__in=mine, b__course__in=mine)
    return rows.select_related("a__course__owner", "b__course__owner")


def narrowed(pairs: QuerySet[LikePair], user: Any, course: int | None, pool: int | None) -> QuerySet[LikePair]:
    """The pairs of which a side lies in a course, or in a pool and what is below it."""
    if pool is not None:
        row = get_object_or_404(Pool, pk=pool, course__in=courses.courses_for(user))
        pools = PoolTree(row.course_id).below(row.pk)
        return pairs.filter(Q(a__pool__in=pools) | Q(b__pool__in=pools))
    return pairs if course is None else pairs.filter(Q(a__course=course) | Q(b__course=course))


@dataclass(frozen=True)
class Sides:
    """Both items of a pair, their lines, and what each would take over from the other."""

    pair: LikePair
    lines: list[Line]
    into_a: MergedItem
    into_b: MergedItem


def sides_of(pair: LikePair) -> Sides:
    a, b = core_item(pair.a), core_item(pair.b)
    sizes = _sizes(pair)
    return Sides(pair, differences(a, b), merged(a, b, sizes), merged(b, a, sizes))


def _sizes(pair: LikePair) -> Any:
    return lambda ref: max(media_size(pair.a.course, ref), media_size(pair.b.course, ref))


def _kept_and_dropped(pair: LikePair, decision: str) -> tuple[Item, Item]:
    return (pair.a, pair.b) if decision.endswith("a") else (pair.b, pair.a)


def _merges(decision: str) -> bool:
    return decision.startswith("merge")


def changes_of(pair: LikePair) -> dict[str, list[int]]:
    """The courses that each decision changes, by their numbers; of none where both stay."""
    found: dict[str, list[int]] = {"both": []}
    for decision in ("a", "b", "merge-a", "merge-b"):
        kept, dropped = _kept_and_dropped(pair, decision)
        found[decision] = list(dict.fromkeys([dropped.course_id, *([kept.course_id] if _merges(decision) else [])]))
    return found


def decide(pair: LikePair, user: Any, decision: str) -> str:
    """Does with two items what was decided; returns it in words.

    Raises NotPossible where a quiz of another course uses the one that would go.
    """
    if decision == "both":
        LikePair.objects.filter(pk=pair.pk).update(decision=LikePair.Decision.BOTH)
        return "Both stay, and are not asked about again."
    kept, dropped = _kept_and_dropped(pair, decision)
    merges = _merges(decision)
    must_edit(user, dropped)
    if merges:
        must_edit(user, kept)
    label = f"{'Merged two into' if merges else 'Dropped the like of'} “{kept.text[:60]}”"
    merging = _merging(pair, kept) if merges else None
    with transaction.atomic(), Recorder(dropped.course, user, label) as record:
        # Both as they are now: of two who decide about a pair at once, the second finds one of them gone, and nothing is lost.
        kept, dropped = _still_there(record, kept), _still_there(record, dropped)
        words: list[str] = []
        if merging and merging.bodies != _bodies(pair):
            merging = _merging(pair, kept)
        if merging and kept.course_id == dropped.course_id:
            words.append(_take_over(pair, merging, kept, record))
        elif merging:
            with Recorder(kept.course, user, label) as own:
                words.append(_take_over(pair, merging, kept, own))
        words += _drop(kept, dropped, record)
    return " ".join(["Kept one.", *words])


def _still_there(record: Recorder, row: Item) -> Item:
    try:
        return record.current(row)
    except Http404:
        raise NotPossible("One of the two was deleted in the meantime.", "Go on with the next pair.") from None


@dataclass(frozen=True)
class _Merging:
    """What an item takes over from the other of a pair, its columns then, and what both said when that was worked out."""

    made: MergedItem
    columns: dict[str, Any]
    bodies: tuple[Any, ...]


def _bodies(pair: LikePair) -> tuple[Any, ...]:
    return pair.a.body, pair.b.body, pair.a.stimulus, pair.b.stimulus


def _merging(pair: LikePair, kept: Item) -> _Merging:
    sides = sides_of(pair)
    made = sides.into_a if kept.pk == pair.a_id else sides.into_b
    return _Merging(made, columns_of(made.item.model_copy(update={"id": kept.body["id"]}), kept.stimulus), _bodies(pair))


def _take_over(pair: LikePair, merging: _Merging, kept: Item, record: Recorder) -> str:
    made, other = merging.made, pair.b if kept.pk == pair.a_id else pair.a
    if not made.took:
        return "It lacked nothing of the other."
    if kept.course_id != other.course_id:
        copy_media(other.course, kept.course, media_named(content_fields(made.item)))
    before = fields_of(kept)
    for name, value in merging.columns.items():
        setattr(kept, name, value)
    kept.updated = timezone.now()
    kept.save()
    record.changed("item", kept, before)
    return f"It took over {_and(made.took)}."


def _and(words: Iterable[str]) -> str:
    *first, last = words
    return f"{', '.join(first)} and {last}" if first else last


def _drop(kept: Item, dropped: Item, record: Recorder) -> list[str]:
    """Deletes an item; the quizzes that have it have the one kept instead."""
    course = dropped.course
    using = quizzes_using(course, Item.objects.filter(pk=dropped.pk))
    if using and kept.course_id != course.pk:
        raise NotPossible(
            f"{_and(using)} in {course.name} {'uses' if len(using) == 1 else 'use'} the one that would go.",
            "Keep that one, or both: a quiz has items of its own course.",
        )
    for entry in dropped.in_parts.select_related("part"):
        _replace(entry, kept, record)
    record.delete([dropped])
    return [f"{_and(using)} {'has' if len(using) == 1 else 'have'} it instead of the one dropped."] if using else []


def _replace(entry: Any, kept: Item, record: Recorder) -> None:
    """Puts the item that stays into a part in the place of the other, with the points that this had there."""
    part, old = entry.part, str(entry.item_id)
    if old in part.points:
        before = fields_of(part)
        part.points = {key: value for key, value in part.points.items() if key != old} | {str(kept.pk): part.points[old]}
        part.save(update_fields=["points"])
        record.changed("part", part, before)
    if part.entries.filter(item=kept).exists():
        record.delete([entry])
        return
    before = fields_of(entry)
    entry.item = kept
    entry.save(update_fields=["item"])
    record.changed("partitem", entry, before)


def paths_of(rows: Iterable[Item]) -> dict[int, list[str]]:
    """The path of the pool of each item, with one look at each course."""
    trees: dict[int, PoolTree] = {}
    found = {}
    for row in rows:
        if row.course_id not in trees:
            trees[row.course_id] = PoolTree(row.course_id)
        found[row.pk] = list(trees[row.course_id].path(row.pool_id))
    return found


def pair_for(user: Any, key: int) -> LikePair:
    return get_object_or_404(pairs_for(user), pk=key)
