"""Sources and readings: adding, reading, mending. Taking into pools is in `taking.py`."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterable, Sequence
from typing import Any, BinaryIO

from django.db import transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate, admit_item
from rogatum.core.checks import CHECKED_CODES, REPAIRS, apply_repair, check_item
from rogatum.core.errors import KeysAlone, UnreadableSource
from rogatum.core.findings import CATALOGUE, Finding
from rogatum.core.formats import format_named
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.receiving import read_keys, read_source
from rogatum.core.sources import KeyLine, ReadOptions, SourceFile
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import courses_for, own_media
from rogatum.web.errors import NotPossible
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import Progress, start_job, work
from rogatum.web.sources.models import Reading, ReadingItem, Source
from rogatum.web.sources.storing import set_findings, set_item, source_path, store_bytes, store_reading


def sources_for(user: Any) -> QuerySet[Source]:
    return Source.objects.filter(course__in=courses_for(user))


def readings_for(user: Any) -> QuerySet[Reading]:
    return Reading.objects.filter(source__course__in=courses_for(user))


# Sources


def add_source(
    course: Course,
    user: Any,
    name: str,
    stream: BinaryIO,
    kind: str = Source.Kind.UPLOAD,
    expected: int | None = None,
    options: dict[str, Any] | None = None,
) -> Job:
    """Keeps the bytes and what is said about how they are to be read, and starts reading them."""
    sha256, size = store_bytes(stream)
    with transaction.atomic():
        source = Source.objects.create(
            course=course, name=name[:300], kind=kind, sha256=sha256, size=size, expected=expected, options=options or {}
        )
        return start_job(course, user, "read", f"Read {source.name}", {"source": source.pk})


def add_paste(course: Course, user: Any, text: str, name: str, expected: int | None, roles: dict[str, str]) -> Job:
    if not text.strip():
        raise NotPossible("The paste is empty.", "Paste the questions into the box.", status=422)
    number = Source.objects.filter(course=course, kind=Source.Kind.PASTE).count() + 1
    stream = io.BytesIO(text.replace("\r\n", "\n").encode())
    return add_source(course, user, name.strip() or f"Pasted text {number}", stream, Source.Kind.PASTE, expected, {"roles": roles})


def add_folder(course: Course, user: Any, name: str, files: Iterable[tuple[str, BinaryIO]]) -> Job:
    """A folder that was dropped, kept as one archive."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_STORED) as archive:
        for path, stream in files:
            archive.writestr(path.replace("\\", "/").lstrip("/"), stream.read())
    buffer.seek(0)
    return add_source(course, user, f"{name}.zip", buffer)


def read_again(
    source: Source, user: Any, expected: int | None, format_name: str | None = None, options: dict[str, Any] | None = None
) -> Job:
    """Reads a source again; what `options` has replaces what was said before about how it is to be read."""
    with transaction.atomic():
        source.expected = expected
        if options is not None:
            source.options = source.options | options
            _remember_columns(source, options.get("columns") or {})
        source.save(update_fields=["expected", "options"])
        return start_job(source.course, user, "read", f"Read {source.name}", {"source": source.pk, "format": format_name})


def _remember_columns(source: Source, columns: dict[str, str]) -> None:
    """What was said about headings holds for later sheets of the course that have the same ones."""
    if columns:
        course = source.course
        course.columns = course.columns | columns
        course.save(update_fields=["columns"])


@work("read")
def read_work(job: Job, progress: Progress) -> dict[str, Any]:
    """Reads a source in full, and only then stores the reading."""
    source = Source.objects.select_related("course").get(pk=job.arguments["source"])
    progress(0, 1)
    try:
        tree_reading = _read(source, job.arguments.get("format"), progress)
    except UnreadableSource as error:
        problem = {"fact": f"{error.what}. {error.why}", "place": source.name, "way_out": error.way_out}
        if isinstance(error, KeysAlone):
            problem["keys"] = error.count
        Source.objects.filter(pk=source.pk).update(problem=problem)
        if isinstance(error, KeysAlone):
            return {"source": source.pk, "keys": error.count}  # read as what it is; it waits for its test
        raise
    reading = store_reading(source, tree_reading)
    return {"source": source.pk, "reading": reading.pk, "items": len(tree_reading.bank.items)}


def options_of(source: Source) -> ReadOptions:
    """What was said about how a source is to be read, and about headings of the course's sheets."""
    said = source.options
    columns = source.course.columns | (said.get("columns") or {})
    keys = [KeyLine(keys["name"], number, text) for keys in said.get("keys") or [] for number, text in keys["lines"]]
    return ReadOptions(key_habit=said.get("key_habit") or "", roles=said.get("roles") or {}, columns=columns, key_lines=keys)


def join_keys(keys: Source, test: Source, user: Any) -> Job:
    """Reads a test again with the keys of another source of its course, which stays with it from then on.

    Raises NotPossible where the one holds no keys or the other is no document.
    """
    reading = test.readings.filter(current=True).first()
    if keys.course_id != test.course_id or reading is None or not format_named(reading.format).document:
        raise NotPossible("Keys can be joined to a document of the same course.", "Choose the test that they are for.", status=422)
    try:
        lines = [(key.number, key.text) for key in read_keys(_file_of(keys))]
    except UnreadableSource as error:
        raise NotPossible(f"{error.what}: {error.why}", error.way_out, status=422) from error
    held = {"name": keys.name, "lines": lines}
    with transaction.atomic():
        test.options = test.options | {"keys": [*(test.options.get("keys") or []), held]}
        test.save(update_fields=["options"])
        keys.delete()
        return start_job(test.course, user, "read", f"Read {test.name} with {held['name']}", {"source": test.pk})


def part_keys(test: Source, user: Any) -> Job:
    """Reads a test again without the keys of other sources, which become sources again."""
    held = test.options.get("keys") or []
    with transaction.atomic():
        test.options = {name: value for name, value in test.options.items() if name != "keys"}
        test.save(update_fields=["options"])
        for keys in held:
            text = "\n".join(line for _, line in keys["lines"])
            add_source(test.course, user, keys["name"], io.BytesIO(text.encode()))
        return start_job(test.course, user, "read", f"Read {test.name}", {"source": test.pk})


def _file_of(source: Source) -> SourceFile:
    """The stored bytes under the name that the person knows, by which the core names a source."""
    path = source_path(source.sha256)
    return SourceFile(source.name.replace("/", "_"), source.size, lambda: path.open("rb"))


def _read(source: Source, format_name: str | None, progress: Progress) -> Any:
    return read_source(_file_of(source), format_name, source.expected, progress, options_of(source))


def delete_source(source: Source) -> None:
    source.delete()


def correct_text(reading: Reading, text: str, roles: dict[str, str] | None = None) -> Reading:
    """Replaces a text source's text, and the roles given by hand where they come along, and reads it again at once."""
    source = reading.source
    if reading.format not in TEXT_FORMATS:
        raise NotPossible("Only text can be corrected in place.", "Edit the items instead.")
    if roles is not None:
        source.options = source.options | {"roles": roles}
    sha256, size = store_bytes(io.BytesIO(text.encode()))
    read = read_source((source.name, text.encode()), reading.format, source.expected, options=options_of(source))
    with transaction.atomic():
        Source.objects.filter(pk=source.pk).update(sha256=sha256, size=size, options=source.options)
        source.refresh_from_db()
        return store_reading(source, read)


TEXT_FORMATS = ("marked-text", "gift")


def preview_text(text: str, format_name: str, roles: dict[str, str]) -> dict[str, Any]:
    """What each line of a text would be read as, and what would be queried about it, without keeping anything."""
    if not text.strip():
        return {"items": 0, "flagged": 0, "lines": []}
    reading = read_source(("text", text.encode()), format_name, options=ReadOptions(roles=roles))
    bank = reading.bank
    order = {item.id: position for position, item in enumerate(bank.items, 1)}
    queries: dict[int, Finding] = {}
    for finding in bank.findings:
        place = re.match(r"line (\d+)", finding.where)
        if place and finding.level != "note":
            queries.setdefault(int(place[1]), finding)
    lines = [
        {
            "number": line.number,
            "role": line.role,
            "name": line.name,
            "item": order.get(line.item or ""),
            "level": queries[line.number].level if line.number in queries else "",
            "message": queries[line.number].message if line.number in queries else "",
        }
        for line in reading.view
    ]
    flagged = len({finding.item for finding in bank.findings if finding.item and finding.level != "note"})
    return {"items": len(bank.items), "flagged": flagged, "lines": lines}


def text_of(reading: Reading) -> str:
    lines = [line["text"] for chunk in reading.chunks.all() for line in chunk.lines]
    return "\n".join(lines)


# Items of a reading


def recheck(row: ReadingItem, item: CoreItem) -> None:
    """Findings after a change: what checks find now, and what the reader said that no check can settle."""
    where = row.place.get("where", "")
    kept = [f for f in row.findings if f["code"] not in CHECKED_CODES or (f["code"] == "points-odd" and item.points == row.points)]
    found = [f.model_dump() for f in check_item(item, where)]
    dismissed = {f["code"] for f in row.findings if f.get("dismissed")}
    set_findings(row, kept + [f | {"dismissed": True} if f["code"] in dismissed else f for f in found])


def _change(row: ReadingItem, changed: CoreItem, record: Recorder) -> None:
    before = fields_of(row)
    recheck(row, changed)
    set_item(row, changed)
    row.edited = True
    record.changed("readingitem", row, before)


def edit_item(row: ReadingItem, user: Any, changed: CoreItem) -> ReadingItem:
    course = row.reading.source.course
    with Recorder(course, user, f"Edited item {row.position} of {row.reading.source.name}") as record:
        item = admit_item(changed.model_copy(update={"id": row.body["id"]}), Gate(own_media(course)))
        _change(row, item, record)
        _settle_key(row)
        row.save()
    return row


# What a reader says about a key is settled when a person has set the key.
KEY_CODES = {
    "key-unknown",
    "keys-disagree",
    "several-combinations",
    "marking-approximated",
    "marking-undecided",
    "type-unsure",
}


def _settle_key(row: ReadingItem) -> None:
    set_findings(row, [f for f in row.findings if f["code"] not in KEY_CODES or f.get("dismissed")])


def repair(reading: Reading, user: Any, code: str, name: str, positions: Sequence[int] | None) -> int:
    """Applies a repair to the given items, or to all that have the finding; returns how many changed."""
    if name not in REPAIRS or code not in CATALOGUE:
        raise NotPossible("There is no such repair.", status=422)
    rows = [
        row
        for row in reading.items.filter(taken__isnull=True)
        if any(f["code"] == code and not f.get("dismissed") for f in row.findings)
    ]
    if positions is not None:
        rows = [row for row in rows if row.position in positions]
    with Recorder(reading.source.course, user, f"{REPAIRS[name].label} on {len(rows)} of {reading.source.name}") as record:
        for row in rows:
            _change(row, apply_repair(item_from(row.body), name), record)
        ReadingItem.objects.bulk_update(rows, ["body", "type", "text", "points", "findings", "worst", "edited"], batch_size=200)
    return len(rows)


def dismiss(reading: Reading, user: Any, code: str, positions: Sequence[int] | None) -> int:
    """Marks findings as looked at; returns on how many items."""
    rows = [row for row in reading.items.all() if any(f["code"] == code and not f.get("dismissed") for f in row.findings)]
    if positions is not None:
        rows = [row for row in rows if row.position in positions]
    with Recorder(reading.source.course, user, f"Marked {len(rows)} findings as looked at") as record:
        for row in rows:
            before = fields_of(row)
            set_findings(row, [f | {"dismissed": True} if f["code"] == code else f for f in row.findings])
            record.changed("readingitem", row, before)
        ReadingItem.objects.bulk_update(rows, ["findings", "worst"], batch_size=200)
    return len(rows)


def drop(reading: Reading, user: Any, positions: Sequence[int], dropped: bool) -> int:
    """Leaves items out of what is taken, or lets them in again."""
    rows = list(reading.items.filter(position__in=positions))
    label = f"{'Left out' if dropped else 'Let in'} {len(rows)} of {reading.source.name}"
    with Recorder(reading.source.course, user, label) as record:
        for row in rows:
            before = fields_of(row)
            row.dropped = dropped
            record.changed("readingitem", row, before)
        ReadingItem.objects.bulk_update(rows, ["dropped"])
    return len(rows)


def item_at(reading: Reading, position: int) -> ReadingItem:
    return get_object_or_404(ReadingItem.objects.select_related("reading__source__course"), reading=reading, position=position)
