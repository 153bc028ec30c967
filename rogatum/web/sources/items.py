"""Items of a reading: every change to them, by hand, by a repair, by a decision of one key, by a wish for many."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate, admit_item, missing_media
from rogatum.core.checks import Repair, apply_repair, check_item, repair_named, stays
from rogatum.core.findings.catalogue import CATALOGUE
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.items.deciding import Decision, decide, decision_words
from rogatum.core.items.parts import is_question_type
from rogatum.core.mending import Plan, Subject, Wish, plan, wish_words
from rogatum.web.bulk import save_columns
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of, in_parts
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.rules import must_edit
from rogatum.web.sources.storing import CHUNK_LINES, set_findings, set_item

# How many rows one query names.
PART = 2000
CHANGED = ["body", "type", "text", "points", "findings", "worst", "edited", "advice", "traits"]
# Decisions by which a person says what is right.
_BY_HAND = frozenset({"key", "type"})


def recheck(row: ReadingItem, item: CoreItem, by_hand: bool = False) -> None:
    """Findings after a change: what checks find now, and what was said that the change does not settle."""
    where, before = row.place.get("where", ""), item_from(row.body)
    kept = [f for f in row.findings if stays(f["code"], before, item, by_hand and not f.get("dismissed"))]
    named = {(f["code"], f["message"]) for f in kept}
    found = [f.model_dump() for f in check_item(item, where)]
    found += [f.model_dump() for f in missing_media(item, where) if (f.code, f.message) not in named]
    dismissed = {f["code"] for f in row.findings if f.get("dismissed")}
    set_findings(row, kept + [f | {"dismissed": True} if f["code"] in dismissed else f for f in found])


def _change(row: ReadingItem, changed: CoreItem, record: Recorder, by_hand: bool = False) -> None:
    before = fields_of(row)
    _made(row, changed, by_hand)
    record.changed("readingitem", row, before)


def edit_item(row: ReadingItem, user: Any, changed: CoreItem, version: str | None = None) -> ReadingItem:
    """Saves an item over the `version` that was seen. Raises Outdated where it is another by now."""
    must_edit(user, row)
    course = row.reading.source.course
    with Recorder(course, user, f"Edited item {row.position} of {row.reading.source.name}") as record:
        row = record.current(row, version)
        item = admit_item(changed.model_copy(update={"id": row.body["id"]}), Gate(own_media(course)))
        _change(row, item, record, by_hand=True)
        row.save()
    return row


def _with_finding(rows: QuerySet[ReadingItem], code: str, positions: Sequence[int] | None) -> list[ReadingItem]:
    """The items on which a finding or advice is open, of those at the positions or of all; asked within the transaction."""
    found = [row for row in rows if any(_is_open(f, code) for f in [*row.findings, *row.advice])]
    return found if positions is None else [row for row in found if row.position in positions]


def _dismissed(findings: list[dict[str, Any]], code: str) -> list[dict[str, Any]]:
    return [f | {"dismissed": True} if f["code"] == code else f for f in findings]


def _is_open(finding: dict[str, Any], code: str) -> bool:
    return bool(finding["code"] == code and not finding.get("dismissed"))


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


def repair(reading: Reading, user: Any, code: str, name: str, positions: Sequence[int] | None) -> int:
    """Applies a repair to the given items, or to all that have the finding; returns how many changed.

    A finding about the whole is one of all its questions, and repaired on all of them at once.
    """
    must_edit(user, reading)
    wanted = _known(code, name)
    ready = _repaired(reading, code, name, positions)
    with Recorder(reading.source.course, user, "") as record:
        _dismiss_of_all(reading, code, record)
        count = _store(ready, record)
        record.label = f"{wanted.label} on {count} of {reading.source.name}"
    return count


def repair_all(course: Course, user: Any, readings: Sequence[Reading], code: str, name: str) -> int:
    """Applies a repair to all that have the finding in several readings of a course, as one; returns how many changed."""
    courses.must_edit(user, course)
    wanted = _known(code, name)
    ready = [entry for reading in readings for entry in _repaired(reading, code, name, None)]
    with Recorder(course, user, "") as record:
        for reading in readings:
            _dismiss_of_all(reading, code, record)
        count = _store(ready, record)
        record.label = f"{wanted.label} on {count} of {len(readings)} sources"
    return count


def _known(code: str, name: str) -> Repair:
    wanted = repair_named(name)
    if wanted is None or code not in CATALOGUE:
        raise NotPossible("There is no such repair.", "Load the page again.", status=422)
    return wanted


@dataclass
class _Ready:
    """An item as it becomes, found out before the lock: its row, the fields as they were, and what makes it of any other state."""

    row: ReadingItem
    before: dict[str, Any]
    become: Callable[[ReadingItem], bool]


def _readied(rows: Iterable[ReadingItem], become: Callable[[ReadingItem], bool]) -> list[_Ready]:
    """Rows with what `become` makes of them; those that it leaves as they are stay out."""
    found = []
    for row in rows:
        before = fields_of(row)
        if become(row):
            found.append(_Ready(row, before, become))
    return found


def _store(ready: Sequence[_Ready], record: Recorder) -> int:
    """Writes items that were found out before; those that somebody changed since are found out again. Returns how many."""
    now = _waiting_among([entry.row.pk for entry in ready])
    written = []
    for entry in ready:
        row = now.get(entry.row.pk)
        if row is None:
            continue
        before = fields_of(row)
        if before == entry.before:
            row = entry.row
        elif not entry.become(row):
            continue
        record.changed("readingitem", row, before)
        written.append(row)
    save_columns(written, CHANGED)
    return len(written)


def _waiting_among(keys: Sequence[int]) -> dict[int, ReadingItem]:
    rows = ReadingItem.objects.filter(taken__isnull=True).select_related("reading")
    return {row.pk: row for part in in_parts(keys, PART) for row in rows.filter(pk__in=part)}


def _made(row: ReadingItem, changed: CoreItem, by_hand: bool = False) -> None:
    """Makes a row what an item becomes, with what checks find of it then."""
    recheck(row, changed, by_hand)
    set_item(row, changed, row.reading.stimuli.get(changed.stimulus or "", {}).get("content", ""))
    row.edited = True


def _repaired(reading: Reading, code: str, name: str, positions: Sequence[int] | None) -> list[_Ready]:
    """The items that a repair changes, as they become."""
    of_all = any(_is_open(finding, code) for finding in reading.findings)

    def become(row: ReadingItem) -> bool:
        wanted = is_question_type(row.type) if of_all else any(_is_open(f, code) for f in [*row.findings, *row.advice])
        if wanted:
            _made(row, apply_repair(item_from(row.body), name))
        return wanted

    rows = _waiting(reading) if of_all or positions is None else _waiting(reading).filter(position__in=positions)
    return _readied(rows, become)


def _waiting(reading: Reading) -> QuerySet[ReadingItem]:
    """What was not taken yet, and can be changed."""
    return reading.items.filter(taken__isnull=True).select_related("reading")


def decide_item(row: ReadingItem, user: Any, decision: Decision) -> ReadingItem:
    """Makes a decision of one key on an item as it is now. Raises NoSuchKey and NoSuchType."""
    must_edit(user, row)
    source = row.reading.source
    with Recorder(source.course, user, f"{decision_words(decision)} of item {row.position} of {source.name}") as record:
        row = record.current(row)
        if row.taken_id is not None:
            raise NotPossible("This item was taken already.", "Change it in its pool.")
        item = decide(item_from(row.body), decision)
        if decision.kind == "outcome":  # the one decision that is a text
            item = admit_item(item, Gate(own_media(source.course)))
        _change(row, item, record, by_hand=decision.kind in _BY_HAND)
        row.save(update_fields=CHANGED)
    return row


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
    rows = list(_waiting(reading))
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


def mend(reading: Reading, user: Any, wish: Wish, positions: Sequence[int] | None, path: Sequence[str] | None) -> int:
    """Changes items as a wish says, all at once; returns how many. Raises NothingToMend."""
    must_edit(user, reading)
    course = reading.source.course
    subjects = _subjects(reading, positions, path)
    rows = {row.position: row for row, _ in subjects}
    made, gate = plan([subject for _, subject in subjects], wish), Gate(own_media(course))
    wanted = {rows[change.position].pk: admit_item(change.item, gate) for change in made.changes}
    seen = {rows[change.position].pk: rows[change.position].body for change in made.changes}

    def become(row: ReadingItem) -> bool:
        # What a wish makes of an item depends on others: one that was changed since stays as it is by now.
        fits = row.body == seen[row.pk]
        if fits:
            _made(row, wanted[row.pk], by_hand=wish.kind == "keys")
        return fits

    ready = _readied((rows[change.position] for change in made.changes), become)
    with Recorder(course, user, "") as record:
        count = _store(ready, record)
        record.label = f"{wish_words(wish)} on {count} of {reading.source.name}"
    return count


def set_passage(reading: Reading, user: Any, key: str, content: str) -> Reading:
    """Sets what the items of a reading share under a key; a new key is a new passage."""
    must_edit(user, reading)
    course = reading.source.course
    with Recorder(course, user, f"Changed a passage of {reading.source.name}") as record:
        reading = record.current(reading)
        before = fields_of(reading)
        admitted = Gate(own_media(course)).content(content)
        reading.stimuli = reading.stimuli | {key: {"id": key, "content": admitted}}
        reading.save(update_fields=["stimuli"])
        record.changed("reading", reading, before)
    return reading


def put_into_pool(reading: Reading, user: Any, positions: Sequence[int], name: str) -> int:
    """Puts items into a pool of their own within the reading, below the one that they are in; returns how many."""
    must_edit(user, reading)
    if not name.strip():
        raise NotPossible("A pool needs a name.", "Type one in.", status=422)
    with Recorder(reading.source.course, user, "") as record:
        rows = list(_waiting(reading).filter(position__in=positions))
        record.label = f"Put {len(rows)} of {reading.source.name} into {name.strip()}"
        for row in rows:
            before = fields_of(row)
            row.path = [*(row.path or [reading.title]), name.strip()]
            record.changed("readingitem", row, before)
        ReadingItem.objects.bulk_update(rows, ["path"], batch_size=200)
    return len(rows)


def dismiss(reading: Reading, user: Any, code: str, positions: Sequence[int] | None) -> int:
    """Marks findings as looked at, on items or about the whole; returns how many."""
    must_edit(user, reading)
    with Recorder(reading.source.course, user, "") as record:
        rows = _with_finding(reading.items.all(), code, positions)
        count = len(rows) + _dismiss_of_all(reading, code, record)
        record.label = f"Marked {count} findings as looked at"
        for row in rows:
            before = fields_of(row)
            set_findings(row, _dismissed(row.findings, code))
            row.advice = _dismissed(row.advice, code)
            record.changed("readingitem", row, before)
        ReadingItem.objects.bulk_update(rows, ["findings", "worst", "advice"], batch_size=200)
    return count


def drop(reading: Reading, user: Any, positions: Sequence[int], dropped: bool) -> int:
    """Leaves items out of what is taken, or lets them in again."""
    must_edit(user, reading)
    with Recorder(reading.source.course, user, "") as record:
        rows = list(reading.items.filter(position__in=positions))
        record.label = f"{'Left out' if dropped else 'Let in'} {len(rows)} of {reading.source.name}"
        for row in rows:
            before = fields_of(row)
            row.dropped = dropped
            record.changed("readingitem", row, before)
        ReadingItem.objects.bulk_update(rows, ["dropped"])
    return len(rows)


def item_at(reading: Reading, position: int) -> ReadingItem:
    return get_object_or_404(ReadingItem.objects.select_related("reading__source__course"), reading=reading, position=position)
