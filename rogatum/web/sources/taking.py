"""Taking items of readings into pools, with duplicates found on the way: one operation in short transactions, whole or not at all.

What each item becomes is found out first, while others write; each step then asks again what waits and what is there by now.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.finding import NEED_LOOK
from rogatum.core.items import item_from
from rogatum.core.items.identity import words_of
from rogatum.core.pools import DuplicateIndex, name_pools
from rogatum.core.pools.naming import DEFAULT_PATTERN, chapter_level, empty_fields
from rogatum.web.bulk import set_each
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course
from rogatum.web.database.steps import in_steps
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools.bodies import columns_of
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.services import next_position, pools_at
from rogatum.web.pools.tree import Path
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.quiz_making import QuizMaking
from rogatum.web.sources.rules import must_edit

BATCH = 500
# How many items one short transaction takes.
STEP = 50


@dataclass
class Taken:
    """What came of taking: numbers, and which items are near-duplicates of which."""

    taken: int = 0
    duplicates: list[int] = field(default_factory=list)
    near: list[dict[str, Any]] = field(default_factory=list)
    pools: list[int] = field(default_factory=list)
    quizzes: list[dict[str, Any]] = field(default_factory=list)

    def add(self, other: Taken) -> None:
        """Adds what came of another source."""
        self.taken += other.taken
        self.duplicates += other.duplicates
        self.near += other.near
        self.pools = sorted({*self.pools, *other.pools})
        self.quizzes += other.quizzes

    def told(self) -> dict[str, Any]:
        return asdict(self)


def waiting(reading: Reading, which: str, positions: list[int]) -> QuerySet[ReadingItem]:
    """The items that can be taken: all, the sound ones (nothing worse than a note is open), or a choice."""
    rows = reading.items.filter(taken__isnull=True, dropped=False)
    if which == "sound":
        return rows.exclude(worst__in=NEED_LOOK)
    return rows.filter(position__in=positions) if which == "chosen" else rows


@dataclass(frozen=True)
class Wanted:
    """What is to be taken of a reading, and which of its quizzes are to be made (by their ids)."""

    reading: Reading
    which: str
    positions: list[int] = field(default_factory=list)
    quizzes: Sequence[str] = ()


@work("take", lane=CHANGING)
def take_work(job: Job, at_work: AtWork) -> None:
    said = job.arguments
    reading = get_object_or_404(Reading.objects.select_related("source__course"), pk=said["reading"], source__course=job.course)
    wanted = Wanted(reading, said["which"], said.get("positions") or [], said.get("quizzes") or [])
    take(at_work, [wanted], reading.source.name)


def start_take(reading: Reading, user: Any, which: str, positions: list[int], arguments: dict[str, Any]) -> Job:
    """Queues the taking of what waits; `arguments` are what `take_work` wants. Raises NotPossible where nothing waits."""
    must_edit(user, reading)
    count = waiting(reading, which, positions).count()
    if not count:
        raise NotPossible("There is nothing to take.", "Choose items that were not taken yet.")
    return start_job(
        reading.source.course, user, "take", f"Take {count} items from {reading.source.name}", arguments | {"reading": reading.pk}
    )


def target_of(course: Course, key: int | None) -> Pool | None:
    """The pool to take into. Raises NotPossible where it was deleted while the job waited."""
    if key is None:
        return None
    pool = Pool.objects.filter(pk=key, course=course).first()
    if pool is None:
        raise NotPossible("The pool to take into was deleted in the meantime; nothing was taken.", "Choose another pool.")
    return pool


@dataclass(frozen=True)
class Naming:
    """How pools are called, and below which pool they come."""

    pattern: str
    purpose: str = ""
    below: Pool | None = None
    # At which level the chapters of a reading are, by its number: of all its items, so that what is taken later is called alike.
    _levels: dict[int, int] = field(default_factory=dict, compare=False)

    def path(self, reading: Reading, path: Sequence[str]) -> list[str]:
        """What the pool with this path in the reading is called."""
        return self.paths(reading, [path])[0]

    def paths(self, reading: Reading, paths: Sequence[Sequence[str]]) -> list[list[str]]:
        """What the pools with these paths are called; items without one lie in a pool called as the reading."""
        return name_pools(_full(reading, paths), self.pattern, *self._said(reading), self._level(reading))

    def empty(self, reading: Reading, paths: Sequence[Sequence[str]]) -> dict[str, list[str]]:
        """The fields that have no value, each with the chapters that go without."""
        return empty_fields(_full(reading, paths), self.pattern, *self._said(reading), self._level(reading))

    def _said(self, reading: Reading) -> tuple[str, str, str]:
        return reading.source.course.name, self.purpose, reading.title

    def _level(self, reading: Reading) -> int:
        if reading.pk not in self._levels:
            paths = reading.items.order_by().values_list("path", flat=True).distinct()
            self._levels[reading.pk] = chapter_level(_full(reading, paths))
        return self._levels[reading.pk]


def _full(reading: Reading, paths: Iterable[Sequence[str]]) -> list[Path]:
    """Paths as they become pools: what lies in none lies in one that is called as the reading."""
    return [tuple(path) or (reading.title,) for path in paths]


def take(at_work: AtWork, wanted: Sequence[Wanted], told_of: str) -> None:
    """Takes what is wanted of readings of the job's course, as the job's arguments say, and finishes the job."""
    said, course = at_work.job.arguments, at_work.job.course
    at_work.progress(0, 1)
    naming = Naming(said.get("pattern") or DEFAULT_PATTERN, said.get("purpose") or "", target_of(course, said.get("pool")))
    staged, near = Staged(at_work, f"Took items from {told_of}"), index_of(course)
    total, takings = Taken(), list[tuple[Wanted, Taking]]()
    of, done = sum(waiting(one.reading, one.which, one.positions).count() for one in wanted), 0
    for one in wanted:
        taking = Taking(one.reading, naming)
        takings.append((one, taking))
        keys = list(waiting(one.reading, one.which, one.positions).values_list("pk", flat=True))
        for part in in_steps(keys, STEP):
            ready = [_readied(row, one.reading, near) for row in ReadingItem.objects.filter(pk__in=part)]
            with staged.step() as record:
                taking.take(ready, bool(said.get("duplicates_too")), record)
            done += len(part)
            at_work.progress(done, of)
    with staged.finishing() as (record, finish):
        for one, taking in takings:
            taking.make_quizzes(one.quizzes, record)
            total.add(taking.result)
        record.label = f"Took {total.taken} items from {told_of}"
        finish(total.told())


@dataclass(frozen=True)
class Readied:
    """An item of a reading as it is to lie in a pool, found out before it is written."""

    row: ReadingItem
    columns: dict[str, Any]
    stimulus: dict[str, Any] | None
    near: dict[str, Any] | None


def _readied(row: ReadingItem, reading: Reading, index: DuplicateIndex) -> Readied:
    """`index` holds what the course had when the job began; near-duplicates are for a person to look at: that is near enough."""
    item, stimulus = item_from(row.body), reading.stimuli.get(row.body.get("stimulus") or "")
    like = index.near(words_of(item))
    near = {"position": row.position, "like": like.key, "percent": like.percent} if like else None
    return Readied(row, columns_of(item, stimulus), stimulus, near)


class Taking:
    """Of one reading: the items that are new, what they are duplicates of, and their pools."""

    def __init__(self, reading: Reading, naming: Naming) -> None:
        self.reading, self.course, self.naming = reading, reading.source.course, naming
        self.result = Taken()
        # The item in the course for each position of the reading that has one, and what those are worth that stand for it with
        # other points.
        self.there: dict[str, str] = {}
        self.worth: dict[str, float] = {}
        self._pools: dict[Path, Pool] = {}

    def take(self, ready: list[Readied], duplicates_too: bool, record: Recorder) -> None:
        """Takes what of these still waits, within a transaction: two that take at once do not take the same."""
        ready = self._still_waiting(ready)
        known = {digest: (key, points) for digest, key, points in self._known([entry.columns["digest"] for entry in ready])}
        fresh: dict[str, int] = {}
        taken: list[Readied] = []
        twins: list[tuple[ReadingItem, str]] = []
        for entry in ready:
            row, digest = entry.row, entry.columns["digest"]
            if not duplicates_too and (digest in known or digest in fresh):
                self.result.duplicates.append(row.position)
                twins.append((row, digest))
                continue
            fresh.setdefault(digest, len(taken))
            taken.append(entry)
        self._find_pools([entry.row.path for entry in taken], record)
        position = next_position(self.course)
        new = [self._item(entry, position + number, record) for number, entry in enumerate(taken)]
        Item.objects.bulk_create(new, batch_size=BATCH)
        record.created("item", new)
        self._mark_taken([entry.row for entry in taken], new, record)
        for row, digest in twins:
            key, points = known[digest] if digest in known else (new[fresh[digest]].pk, new[fresh[digest]].points)
            self.there[str(row.position)] = str(key)
            if row.points is not None and row.points != points:
                self.worth[str(row.position)] = row.points
        self.result.near += [entry.near for entry in taken if entry.near]
        self.result.taken += len(new)
        self.result.pools = sorted({pool.pk for pool in self._pools.values()})

    def _still_waiting(self, ready: list[Readied]) -> list[Readied]:
        rows = ReadingItem.objects.in_bulk([entry.row.pk for entry in ready])
        found = []
        for entry in ready:
            now = rows.get(entry.row.pk)
            if now is None or now.taken_id is not None or now.dropped:
                continue
            if now.body != entry.row.body:  # edited just now
                columns = columns_of(item_from(now.body), entry.stimulus)
                entry = Readied(now, columns, entry.stimulus, entry.near)
            found.append(entry)
        return found

    def _known(self, digests: list[str]) -> QuerySet[Item, tuple[str, int, float | None]]:
        return Item.objects.filter(course=self.course, digest__in=digests).values_list("digest", "id", "points")

    def _item(self, entry: Readied, position: int, record: Recorder) -> Item:
        source = self.reading.source.name
        return Item(
            course=self.course,
            pool=self.pool_at(entry.row.path, record),
            position=position,
            stimulus=entry.stimulus,
            origin=_origin(source, entry.row.place.get("where", ""))[:400],
            source=source[:300],
            **entry.columns,
        )

    def _mark_taken(self, sources: list[ReadingItem], new: list[Item], record: Recorder) -> None:
        took = [(row.pk, row.taken_id, item_row.pk) for row, item_row in zip(sources, new, strict=True)]
        record.set_each("readingitem", "taken_id", took)
        set_each(ReadingItem, "taken", ((key, now) for key, _, now in took))
        for row, item_row in zip(sources, new, strict=True):
            row.taken = item_row

    def pool_at(self, path: Sequence[str], record: Recorder) -> Pool:
        """The pool that a path of the reading becomes, made when something first lies in it."""
        self._find_pools([path], record)
        return self._pools[tuple(path)]

    def _find_pools(self, paths: Iterable[Sequence[str]], record: Recorder) -> None:
        missing = [path for path in dict.fromkeys(map(tuple, paths)) if path not in self._pools]
        named = {path: tuple(self.naming.path(self.reading, path)) for path in missing}
        found = pools_at(self.course, named.values(), record, self.naming.below)
        self._pools |= {path: found[name] for path, name in named.items()}

    def make_quizzes(self, wanted: Sequence[str], record: Recorder) -> None:
        if wanted:
            making = QuizMaking(self.reading, record, self.there, self.worth, lambda path: self.pool_at(path, record))
            self.result.quizzes = making.make(wanted)


def index_of(course: Course) -> DuplicateIndex:
    """The course's items for finding near-duplicates."""
    known = Item.objects.filter(course=course).values_list("id", "body").iterator(chunk_size=BATCH)
    return DuplicateIndex((str(key), words_of(item_from(body))) for key, body in known)


def _origin(source: str, where: str) -> str:
    """Where an item came from: the source by name, and the place in it."""
    return where if where.startswith(source) else f"{source}, {where}".rstrip(", ")
