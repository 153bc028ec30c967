"""Taking items of a reading into pools, all in one transaction, with duplicates found on the way."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.finding import NEED_LOOK
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.items.identity import words_of
from rogatum.core.pools import DuplicateIndex, name_pools
from rogatum.core.pools.naming import DEFAULT_PATTERN
from rogatum.web.bulk import set_each
from rogatum.web.courses.history import Recorder
from rogatum.web.courses.models import Course
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, start_job, work
from rogatum.web.pools.bodies import columns_of
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.services import next_position, pool_at
from rogatum.web.pools.tree import Path
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.quiz_making import QuizMaking
from rogatum.web.sources.rules import must_edit

BATCH = 500


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


@work("take", lane=CHANGING)
def take_work(job: Job, at_work: AtWork) -> None:
    """What waits is asked for within the transaction that takes it: two that take at once do not take the same."""
    said = job.arguments
    at_work.progress(0, 1)
    near = index_of(job.course)
    with at_work.finishing() as done:
        reading = get_object_or_404(Reading.objects.select_related("source__course"), pk=said["reading"], source__course=job.course)
        rows = list(waiting(reading, said["which"], said.get("positions") or []))
        below = target_of(job.course, said.get("pool"))
        naming = Naming(said.get("pattern") or DEFAULT_PATTERN, said.get("purpose") or "", below)
        done(take(reading, job.user, rows, naming, bool(said.get("duplicates_too")), near, said.get("quizzes") or []).told())


def start_take(reading: Reading, user: Any, which: str, positions: list[int], arguments: dict[str, Any]) -> Job:
    """Queues the taking of what waits; `arguments` are what `take_work` wants. Raises NotPossible where nothing waits."""
    must_edit(user, reading)
    count = waiting(reading, which, positions).count()
    if not count:
        raise NotPossible("There is nothing to take.", "Choose items that were not taken yet.")
    return start_job(
        reading.source.course, user, "take", f"Take {count} items from {reading.source.name}", arguments | {"reading": reading.pk}
    )


def names_of(reading: Reading, which: str, positions: list[int], pattern: str, purpose: str) -> tuple[list[list[str]], int]:
    """What the pools of what waits will be called, and how many items wait."""
    paths = list(waiting(reading, which, positions).values_list("path", flat=True))
    names = Naming(pattern, purpose).paths(reading, list(dict.fromkeys(map(tuple, paths))))
    return [list(name) for name in dict.fromkeys(map(tuple, names))], len(paths)


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

    def path(self, reading: Reading, path: Sequence[str]) -> list[str]:
        """What the pool with this path in the reading is called."""
        return self.paths(reading, [path])[0]

    def paths(self, reading: Reading, paths: Sequence[Sequence[str]]) -> list[list[str]]:
        """What the pools with these paths are called; items without one lie in a pool called as the reading."""
        course = reading.source.course.name
        return name_pools([tuple(path) or (reading.title,) for path in paths], self.pattern, course, self.purpose, reading.title)


def take(
    reading: Reading,
    user: Any,
    rows: list[ReadingItem],
    naming: Naming,
    duplicates_too: bool,
    index: DuplicateIndex,
    quizzes: Sequence[str] = (),
) -> Taken:
    """Takes items into pools, and makes those quizzes of the reading that `quizzes` names (by their ids), all at once.

    `index` holds what the course had when the job began; near-duplicates are for a person to look at, so that is near enough.
    """
    must_edit(user, reading)
    course = reading.source.course
    with Recorder(course, user, "") as record:
        taking = Taking(reading, naming, record, index)
        taking.take(rows, duplicates_too)
        taking.make_quizzes(quizzes)
        record.label = f"Took {taking.result.taken} items from {reading.source.name}"
    return taking.result


class Taking:
    """One operation: the items that are new, what they are duplicates of, and their pools."""

    def __init__(self, reading: Reading, naming: Naming, record: Recorder, index: DuplicateIndex) -> None:
        self.reading, self.course, self.naming = reading, reading.source.course, naming
        self.record, self.index = record, index
        self.result = Taken()
        # The item in the course for each position of the reading that has one, and what those are worth that stand for it with
        # other points.
        self.there: dict[str, str] = {}
        self.worth: dict[str, float] = {}
        self._pools: dict[Path, Pool] = {}

    def take(self, rows: list[ReadingItem], duplicates_too: bool) -> None:
        known = {digest: (key, points) for digest, key, points in self._known()}
        fresh: dict[str, int] = {}
        position, new, sources = next_position(self.course), list[Item](), list[ReadingItem]()
        twins: list[tuple[ReadingItem, str]] = []
        for row in rows:
            item, stimulus = item_from(row.body), self.reading.stimuli.get(row.body.get("stimulus") or "")
            columns = columns_of(item, stimulus)
            digest = columns["digest"]
            if not duplicates_too and (digest in known or digest in fresh):
                self.result.duplicates.append(row.position)
                twins.append((row, digest))
                continue
            fresh.setdefault(digest, len(new))
            self._note_near(row, item)
            place = row.place.get("where", "")
            new.append(
                Item(
                    course=self.course,
                    pool=self.pool_at(row.path),
                    position=position + len(new),
                    stimulus=stimulus,
                    origin=_origin(self.reading.source.name, place)[:400],
                    source=self.reading.source.name[:300],
                    **columns,
                )
            )
            sources.append(row)
        Item.objects.bulk_create(new, batch_size=BATCH)
        self.record.created("item", new)
        self._mark_taken(sources, new)
        for row, digest in twins:
            key, points = known[digest] if digest in known else (new[fresh[digest]].pk, new[fresh[digest]].points)
            self.there[str(row.position)] = str(key)
            if row.points is not None and row.points != points:
                self.worth[str(row.position)] = row.points
        self.result.taken = len(new)
        self.result.pools = sorted({pool.pk for pool in self._pools.values()})

    def _known(self) -> QuerySet[Item, tuple[str, int, float | None]]:
        return Item.objects.filter(course=self.course).values_list("digest", "id", "points")

    def _note_near(self, row: ReadingItem, item: CoreItem) -> None:
        like = self.index.near(words_of(item))
        if like is not None:
            self.result.near.append({"position": row.position, "like": like.key, "percent": like.percent})

    def _mark_taken(self, sources: list[ReadingItem], new: list[Item]) -> None:
        took = [(row.pk, row.taken_id, item_row.pk) for row, item_row in zip(sources, new, strict=True)]
        self.record.set_each("readingitem", "taken_id", took)
        set_each(ReadingItem, "taken", ((key, now) for key, _, now in took))
        for row, item_row in zip(sources, new, strict=True):
            row.taken = item_row

    def pool_at(self, path: Sequence[str]) -> Pool:
        """The pool that a path of the reading becomes, made when something first lies in it."""
        key = tuple(path)
        if key not in self._pools:
            self._pools[key] = pool_at(self.course, self.naming.path(self.reading, path), self.record, self.naming.below)
        return self._pools[key]

    def make_quizzes(self, wanted: Sequence[str]) -> None:
        if wanted:
            making = QuizMaking(self.reading, self.record, self.there, self.worth, self.pool_at)
            self.result.quizzes = making.make(wanted)


def index_of(course: Course) -> DuplicateIndex:
    """The course's items for finding near-duplicates."""
    known = Item.objects.filter(course=course).values_list("id", "body").iterator(chunk_size=BATCH)
    return DuplicateIndex((str(key), words_of(item_from(body))) for key, body in known)


def _origin(source: str, where: str) -> str:
    """Where an item came from: the source by name, and the place in it."""
    return where if where.startswith(source) else f"{source}, {where}".rstrip(", ")
