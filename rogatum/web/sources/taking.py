"""Taking items of a reading into pools, all in one transaction, with duplicates found on the way."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.items import item_from
from rogatum.core.items.identity import words_of
from rogatum.core.pools import DuplicateIndex, name_pools
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, work
from rogatum.web.pools.bodies import columns_of
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.services import next_position, pool_at
from rogatum.web.sources.models import Reading, ReadingItem

BATCH = 500


@dataclass
class Taken:
    """What came of taking: numbers, and which items are near-duplicates of which."""

    taken: int = 0
    duplicates: list[int] = field(default_factory=list)
    near: list[dict[str, Any]] = field(default_factory=list)
    pools: list[int] = field(default_factory=list)


def waiting(reading: Reading, which: str, positions: list[int]) -> QuerySet[ReadingItem]:
    """The items that can be taken: all, the sound ones (nothing worse than a note is open), or a choice."""
    rows = reading.items.filter(taken__isnull=True, dropped=False)
    if which == "sound":
        return rows.exclude(worst__in=["error", "warning"])
    return rows.filter(position__in=positions) if which == "chosen" else rows


@work("take", lane=CHANGING)
def take_work(job: Job, at_work: AtWork) -> None:
    """What waits is asked for within the transaction that takes it: two that take at once do not take the same."""
    said = job.arguments
    at_work.progress(0, 1)
    near = index_of(job.course)
    with at_work.finishing() as done:
        reading = get_object_or_404(Reading.objects.select_related("source__course"), pk=said["reading"], source__course=job.course)
        rows = list(waiting(reading, said["which"], said.get("positions") or []))
        below = _target(job.course, said.get("pool"))
        pattern, purpose = said.get("pattern") or "{chapter}", said.get("purpose") or ""
        done(asdict(take(reading, job.user, rows, pattern, below, purpose, bool(said.get("duplicates_too")), near)))


def _target(course: Course, key: int | None) -> Pool | None:
    """The pool to take into. Raises NotPossible where it was deleted while the job waited."""
    if key is None:
        return None
    pool = Pool.objects.filter(pk=key, course=course).first()
    if pool is None:
        raise NotPossible("The pool to take into was deleted in the meantime; nothing was taken.", "Choose another pool.")
    return pool


def take(
    reading: Reading,
    user: Any,
    rows: list[ReadingItem],
    pattern: str,
    below: Pool | None,
    purpose: str,
    duplicates_too: bool,
    index: DuplicateIndex,
) -> Taken:
    """Takes items into pools named by the pattern, below a pool or at the top of the course.

    `index` holds what the course had when the job began; near-duplicates are for a person to look at, so that is near enough.
    """
    course, result = reading.source.course, Taken()
    with Recorder(course, user, f"Took {len(rows)} items from {reading.source.name}") as record:
        known = {} if duplicates_too else dict(Item.objects.filter(course=course).values_list("digest", "id"))
        pools = _pools(reading, rows, pattern, below, purpose, record)
        result.pools = sorted({pool.pk for pool in pools.values()})
        position, new, sources = next_position(course), list[Item](), list[ReadingItem]()
        for row in rows:
            item = item_from(row.body)
            stimulus = reading.stimuli.get(item.stimulus or "")
            columns = columns_of(item, stimulus)
            if columns["digest"] in known:
                result.duplicates.append(row.position)
                continue
            if not duplicates_too:
                known[columns["digest"]] = 0
            like = index.near(words_of(item))
            if like is not None:
                result.near.append({"position": row.position, "like": like.key, "percent": like.percent})
            new.append(
                Item(
                    course=course,
                    pool=pools[tuple(row.path)],
                    position=position + len(new),
                    stimulus=stimulus,
                    origin=_origin(reading.source.name, row.place.get("where", ""))[:400],
                    **columns,
                )
            )
            sources.append(row)
        Item.objects.bulk_create(new, batch_size=BATCH)
        record.created("item", new)
        for row, item_row in zip(sources, new, strict=True):
            before = fields_of(row)
            row.taken = item_row
            record.changed("readingitem", row, before)
        ReadingItem.objects.bulk_update(sources, ["taken"], batch_size=BATCH)
        result.taken = len(new)
        record.label = f"Took {len(new)} items from {reading.source.name}"
    return result


def index_of(course: Course) -> DuplicateIndex:
    """The course's items for finding near-duplicates."""
    known = Item.objects.filter(course=course).values_list("id", "body").iterator(chunk_size=BATCH)
    return DuplicateIndex((str(key), words_of(item_from(body))) for key, body in known)


def _pools(
    reading: Reading, rows: list[ReadingItem], pattern: str, below: Pool | None, purpose: str, record: Recorder
) -> dict[tuple[str, ...], Pool]:
    paths = list(dict.fromkeys(tuple(row.path) for row in rows))
    named = name_pools([path or (reading.title,) for path in paths], pattern, reading.source.course.name, purpose, reading.title)
    return {path: pool_at(reading.source.course, name, record, below) for path, name in zip(paths, named, strict=True)}


def _origin(source: str, where: str) -> str:
    """Where an item came from: the source by name, and the place in it."""
    return where if where.startswith(source) else f"{source}, {where}".rstrip(", ")
