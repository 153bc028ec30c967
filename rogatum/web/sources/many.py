"""What is done to many items of readings at once: found out before the lock, one operation, undone as one.

Where they are many, a job writes it in short transactions.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.http import Http404
from pydantic import TypeAdapter

from rogatum.core.admission import Gate, admit_item
from rogatum.core.checks import Repair, apply_repair, repair_named
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.items import item_from
from rogatum.core.items.parts import is_question_type
from rogatum.core.mending import Plan, Subject, Wish, plan, wish_words
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, WorkedOut, fields_of, worked_out
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.sources.items import become
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.rules import must_edit
from rogatum.web.sources.storing import CHUNK_LINES, set_findings

# More items than this are changed by a job, so many in each of its transactions.
AT_ONCE, STEP = 100, 100
_WISH: TypeAdapter[Wish] = TypeAdapter(Wish)
Done = tuple[int, Job | None]


@dataclass(frozen=True)
class _Intent:
    """What is to become of items, by their keys: what makes a row what it becomes, and says whether it did.

    `words` say it of so many; `of_wholes` does within the operation what is done to readings as wholes, and says to how many.
    """

    keys: Sequence[int]
    become: Callable[[ReadingItem], bool]
    words: Callable[[int], str]
    of_wholes: Callable[[Recorder], int] = lambda _record: 0
    # What was taken already is no longer changed, but can still be marked.
    taken_too: bool = False

    def _rows(self) -> QuerySet[ReadingItem]:
        rows = ReadingItem.objects.order_by("pk")
        return rows if self.taken_too else rows.filter(taken__isnull=True)

    def found_out(self, keys: Sequence[int]) -> list[WorkedOut[ReadingItem]]:
        return worked_out(self._rows().filter(pk__in=keys).prefetch_related("reading"), self.become)

    def write(self, found: Sequence[WorkedOut[ReadingItem]], record: Recorder) -> int:
        return record.put_all("readingitem", found, self._rows())


def _do(course: Course, user: Any, what: str, **said: Any) -> Done:
    """Does it, or starts the job that does; returns how many, and the job."""
    intent = _INTENTS[what](course, **said)
    if len(intent.keys) > AT_ONCE:
        label = intent.words(len(intent.keys))
        return len(intent.keys), start_job(course, user, "check-many", label, {"what": what, "said": said})
    found = intent.found_out(intent.keys)
    with Recorder(course, user, "") as record:
        count = intent.of_wholes(record) + intent.write(found, record)
        record.label = intent.words(count)
    return count, None


@work("check-many", lane=CHANGING)
def work_on_many(job: Job, at_work: AtWork) -> None:
    intent = _INTENTS[job.arguments["what"]](job.course, **job.arguments["said"])
    staged, count = Staged(at_work, job.label), 0
    for part in staged.each(intent.keys, STEP):
        found = intent.found_out(part)
        with staged.step() as record:
            count += intent.write(found, record)
    with staged.finishing() as (record, finish):
        count += intent.of_wholes(record)
        record.label = intent.words(count)
        finish({"count": count})


def _readings(course: Course, keys: Sequence[int]) -> list[Reading]:
    """Readings of a course, in this order. Raises a 404 where one is gone."""
    found = Reading.objects.filter(source__course=course, source__put_away=None).select_related("source").in_bulk(keys)
    if len(found) < len(set(keys)):
        raise Http404
    return [found[key] for key in keys]


def _waiting(readings: Sequence[Reading]) -> QuerySet[ReadingItem]:
    """What was not taken yet, and can be changed."""
    return ReadingItem.objects.filter(reading__in=readings, taken__isnull=True).select_related("reading")


def _is_open(finding: dict[str, Any], code: str) -> bool:
    return bool(finding["code"] == code and not finding.get("dismissed"))


def _has_open(row: ReadingItem, code: str) -> bool:
    return any(_is_open(finding, code) for finding in [*row.findings, *row.advice])


def _open_on(rows: QuerySet[ReadingItem], code: str) -> list[int]:
    """The keys of those on which a finding or advice is open."""
    said = rows.values_list("pk", "findings", "advice")
    return [key for key, findings, advice in said if any(_is_open(finding, code) for finding in [*findings, *advice])]


def _dismissed(findings: list[dict[str, Any]], code: str) -> list[dict[str, Any]]:
    return [f | {"dismissed": True} if f["code"] == code else f for f in findings]


def _dismiss_of_all(reading: Reading, code: str, record: Recorder) -> bool:
    """Marks a finding about the reading as a whole as looked at; returns whether one was open."""
    reading.refresh_from_db(fields=["findings"])
    if not any(_is_open(finding, code) for finding in reading.findings):
        return False
    before = fields_of(reading)
    reading.findings = _dismissed(reading.findings, code)
    record.changed("reading", reading, before)
    reading.save(update_fields=["findings"])
    return True


# Repairs


def repair(reading: Reading, user: Any, code: str, name: str, positions: Sequence[int] | None) -> Done:
    """Applies a repair to the given items, or to all that have the finding; returns how many changed.

    A finding about the whole is one of all its questions, and repaired on all of them at once.
    """
    must_edit(user, reading)
    return _do(reading.source.course, user, "repair", readings=[reading.pk], code=code, name=name, positions=positions)


def repair_all(course: Course, user: Any, readings: Sequence[Reading], code: str, name: str) -> Done:
    """Applies a repair to all that have the finding in several readings of a course, as one; returns how many changed."""
    courses.must_edit(user, course)
    return _do(course, user, "repair", readings=[reading.pk for reading in readings], code=code, name=name, positions=None)


def _known(code: str, name: str) -> Repair:
    wanted = repair_named(name)
    if wanted is None or code not in CATALOGUE:
        raise NotPossible("There is no such repair.", "Load the page again.", status=422)
    return wanted


def _repairing(course: Course, readings: list[int], code: str, name: str, positions: Sequence[int] | None) -> _Intent:
    wanted, found = _known(code, name), _readings(course, readings)
    as_wholes = {reading.pk for reading in found if any(_is_open(finding, code) for finding in reading.findings)}
    rows = _waiting(found)
    of_wholes = rows.filter(reading__in=as_wholes).values_list("pk", "type")
    others = rows.exclude(reading__in=as_wholes)
    keys = [key for key, kind in of_wholes if is_question_type(kind)]
    keys += _open_on(others if positions is None else others.filter(position__in=positions), code)

    def repaired(row: ReadingItem) -> bool:
        wants = is_question_type(row.type) if row.reading_id in as_wholes else _has_open(row, code)
        if wants:
            become(row, apply_repair(item_from(row.body), name))
        return wants

    def settle(record: Recorder) -> int:
        for reading in found:
            _dismiss_of_all(reading, code, record)
        return 0

    of = found[0].source.name if len(found) == 1 else f"{len(found)} sources"
    return _Intent(keys, repaired, lambda count: f"{wanted.label} on {count} of {of}", settle)


# Wishes


def _first_lines(reading: Reading, rows: Sequence[ReadingItem]) -> dict[int, str]:
    """The first line of the source of each row, by position."""
    firsts = {row.position: int(row.place["first"]) - 1 for row in rows if row.place.get("first")}
    numbers = {first // CHUNK_LINES for first in firsts.values()}
    chunks = {chunk.number: chunk.lines for chunk in reading.chunks.filter(number__in=numbers)}
    found: dict[int, str] = {}
    for position, first in firsts.items():
        lines = chunks.get(first // CHUNK_LINES, [])
        if first % CHUNK_LINES < len(lines):
            found[position] = lines[first % CHUNK_LINES]["text"]
    return found


def _subjects(reading: Reading, positions: Sequence[int] | None, path: Sequence[str] | None) -> list[tuple[ReadingItem, Subject]]:
    rows = list(_waiting([reading]))
    if path is not None:
        rows = [row for row in rows if list(row.path) == list(path)]
    if positions is not None:
        wanted = set(positions)
        rows = [row for row in rows if row.position in wanted]
    lines = _first_lines(reading, rows)
    return [(row, Subject(row.position, item_from(row.body), tuple(row.path), lines.get(row.position, ""))) for row in rows]


def plan_mending(reading: Reading, user: Any, wish: Wish, positions: Sequence[int] | None, path: Sequence[str] | None) -> Plan:
    """What a wish would change, before it is made. Raises NothingToMend."""
    must_edit(user, reading)
    return plan([subject for _, subject in _subjects(reading, positions, path)], wish)


def mend(reading: Reading, user: Any, wish: Wish, positions: Sequence[int] | None, path: Sequence[str] | None) -> Done:
    """Changes items as a wish says, all at once; returns how many. Raises NothingToMend."""
    must_edit(user, reading)
    said = {"wish": _WISH.dump_python(wish, mode="json"), "positions": positions, "path": path}
    return _do(reading.source.course, user, "mend", readings=[reading.pk], **said)


def _mending(
    course: Course, readings: list[int], wish: Any, positions: Sequence[int] | None, path: Sequence[str] | None
) -> _Intent:
    [reading] = _readings(course, readings)
    wanted = _WISH.validate_python(wish)
    subjects = _subjects(reading, positions, path)
    rows, gate = {row.position: row for row, _ in subjects}, Gate(own_media(course))
    made = {rows[change.position].pk: change for change in plan([subject for _, subject in subjects], wanted).changes}
    seen = {key: rows[change.position].body for key, change in made.items()}

    def mended(row: ReadingItem) -> bool:
        # What a wish makes of an item depends on others: one that was changed since stays as it is by now.
        fits = row.body == seen[row.pk]
        if fits:
            become(row, admit_item(made[row.pk].item, gate), by_hand=wanted.kind == "keys")
        return fits

    return _Intent(list(made), mended, lambda count: f"{wish_words(wanted)} on {count} of {reading.source.name}")


# Marks


def dismiss(reading: Reading, user: Any, code: str, positions: Sequence[int] | None) -> Done:
    """Marks findings as looked at, on items or about the whole; returns how many."""
    must_edit(user, reading)
    return _do(reading.source.course, user, "dismiss", readings=[reading.pk], code=code, positions=positions)


def _dismissing(course: Course, readings: list[int], code: str, positions: Sequence[int] | None) -> _Intent:
    [reading] = _readings(course, readings)
    rows = reading.items.all()

    def looked_at(row: ReadingItem) -> bool:
        is_open = _has_open(row, code)
        if is_open:
            set_findings(row, _dismissed(row.findings, code))
            row.advice = _dismissed(row.advice, code)
        return is_open

    keys = _open_on(rows if positions is None else rows.filter(position__in=positions), code)
    return _Intent(
        keys,
        looked_at,
        lambda count: f"Marked {count} findings as looked at",
        lambda record: int(_dismiss_of_all(reading, code, record)),
        taken_too=True,
    )


def drop(reading: Reading, user: Any, positions: Sequence[int], dropped: bool) -> Done:
    """Leaves items out of what is taken, or lets them in again; returns how many."""
    must_edit(user, reading)
    return _do(reading.source.course, user, "drop", readings=[reading.pk], positions=positions, dropped=dropped)


def _dropping(course: Course, readings: list[int], positions: Sequence[int], dropped: bool) -> _Intent:
    [reading] = _readings(course, readings)
    keys = list(reading.items.filter(position__in=positions).values_list("pk", flat=True))

    def left_out(row: ReadingItem) -> bool:
        differs, row.dropped = row.dropped != dropped, dropped
        return differs

    did = "Left out" if dropped else "Let in"
    return _Intent(keys, left_out, lambda count: f"{did} {count} of {reading.source.name}", taken_too=True)


def put_into_pool(reading: Reading, user: Any, positions: Sequence[int], name: str) -> Done:
    """Puts items into a pool of their own within the reading, below the one that they are in; returns how many."""
    must_edit(user, reading)
    if not name.strip():
        raise NotPossible("A pool needs a name.", "Type one in.", status=422)
    return _do(reading.source.course, user, "pool", readings=[reading.pk], positions=positions, name=name.strip())


def _pooling(course: Course, readings: list[int], positions: Sequence[int], name: str) -> _Intent:
    [reading] = _readings(course, readings)
    keys = list(_waiting([reading]).filter(position__in=positions).values_list("pk", flat=True))

    def put(row: ReadingItem) -> bool:
        row.path, row.put_into = [*(row.path or [reading.title]), name], [*row.put_into, name]
        return True

    return _Intent(keys, put, lambda count: f"Put {count} of {reading.source.name} into {name}")


_INTENTS: dict[str, Callable[..., _Intent]] = {
    "repair": _repairing,
    "mend": _mending,
    "dismiss": _dismissing,
    "drop": _dropping,
    "pool": _pooling,
}
