"""Sources and readings: adding, reading, mending. Taking into pools is in `taking.py`."""

from __future__ import annotations

import io
import shutil
import tempfile
import threading
import zipfile
from collections.abc import Callable, Iterable, Iterator
from contextlib import AbstractContextManager, contextmanager
from pathlib import Path
from typing import Any, BinaryIO

from django.conf import settings
from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone

from rogatum import apart
from rogatum.apart import Bounds, NoLongerWanted, Progress
from rogatum.core.errors import KeysAlone, UnreadableSource
from rogatum.core.finding import FindingKind
from rogatum.core.formats import Reading as CoreReading
from rogatum.core.formats import format_named
from rogatum.core.preview import Preview
from rogatum.core.sources import KeyLine, ReadOptions
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import KEPT_FOR
from rogatum.web.errors import NotPossible, Outdated
from rogatum.web.files import SOURCES, Stored
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import READING, AtWork, purges, start_job, work
from rogatum.web.sources.models import Batch, Reading, Source
from rogatum.web.sources.rules import must_edit
from rogatum.web.sources.storing import discard, forget, kept, write_reading
from rogatum.web.sources.succession import Succession

# Sources


def add_source(
    course: Course,
    user: Any,
    name: str,
    stream: BinaryIO,
    kind: str = Source.Kind.UPLOAD,
    expected: int | None = None,
    options: dict[str, Any] | None = None,
    batch: Batch | None = None,
) -> Job:
    """Keeps the bytes and what is said about how they are to be read, and starts reading them."""
    courses.must_edit(user, course)
    with kept(stream) as stored:
        source = Source(course=course, name=name, kind=kind, expected=expected, options=options or {}, batch=batch)
        return source_of(stored, source, user)


def source_of(stored: Stored, source: Source, user: Any) -> Job:
    """Makes a source of bytes that are being kept (`kept`), and starts reading it."""
    courses.must_edit(user, source.course)
    source.name, source.sha256, source.size = source.name[:300], stored.sha256, stored.size
    source.save(force_insert=True)
    return start_job(source.course, user, "read", f"Read {source.name}", {"source": source.pk})


def add_paste(course: Course, user: Any, text: str, name: str, expected: int | None, roles: dict[str, str]) -> Job:
    courses.must_edit(user, course)
    if not text.strip():
        raise NotPossible("The paste is empty.", "Paste the questions into the box.", status=422)
    number = Source.objects.filter(course=course, kind=Source.Kind.PASTE).count() + 1
    stream = io.BytesIO(text.replace("\r\n", "\n").encode())
    return add_source(course, user, name.strip() or f"Pasted text {number}", stream, Source.Kind.PASTE, expected, {"roles": roles})


def add_folder(course: Course, user: Any, name: str, files: Iterable[tuple[str, BinaryIO]], batch: Batch | None = None) -> Job:
    """A folder that was dropped, kept as one archive. Its paths are names within it; reading refuses those that lead out."""
    courses.must_edit(user, course)
    with tempfile.TemporaryFile() as buffer:
        with zipfile.ZipFile(buffer, "w", zipfile.ZIP_STORED) as archive:
            for path, stream in files:
                with archive.open(path.replace("\\", "/").lstrip("/") or "file", "w", force_zip64=True) as member:
                    shutil.copyfileobj(stream, member)
        buffer.seek(0)
        return add_source(course, user, f"{name}.zip", buffer, batch=batch)


def read_again(
    source: Source, user: Any, expected: int | None, format_name: str | None = None, options: dict[str, Any] | None = None
) -> Job:
    """Reads a source again; what `options` has replaces what was said before about how it is to be read."""
    must_edit(user, source)
    with transaction.atomic():
        source = _row(source)
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


@work("read", lane=READING, changes=False)
def read_work(job: Job, at_work: AtWork) -> None:
    """Reads a source in full, apart, and only then stores the reading."""
    source = get_object_or_404(Source.objects.select_related("course"), pk=job.arguments["source"], course=job.course)
    at_work.progress(0, 1)
    wanted = lambda: at_work.wanted() and _wanted(source, job)  # noqa: E731
    try:
        with (
            _read(source, job.arguments.get("format"), at_work.progress, wanted) as read,
            _written(source, read) as succession,
            at_work.finishing() as done,
        ):
            _refuse_unwanted(source, job)
            reading = succession.succeed()
            done({"source": source.pk, "reading": reading.pk, "items": len(read.bank.items)})
    except KeysAlone as alone:
        with at_work.finishing() as done:
            _set_problem(source, job, _problem(source, alone) | {"keys": alone.count})
            done({"source": source.pk, "keys": alone.count})  # read as what it is; it waits for its test
    except UnreadableSource as error:
        _set_problem(source, job, _problem(source, error))
        raise


@contextmanager
def _written(source: Source, read: CoreReading) -> Iterator[Succession]:
    """A reading that is stored and can succeed, and is removed again where it does not within the context."""
    if not Source.objects.filter(pk=source.pk).exists():
        raise NoLongerWanted
    written = write_reading(source, read)
    try:
        succession = Succession(source, written)
        succession.prepare()
        yield succession
    except BaseException:
        discard(written.reading)
        raise


def _problem(source: Source, error: UnreadableSource) -> dict[str, Any]:
    return {"fact": f"{error.what}. {error.why}", "place": source.name, "way_out": error.way_out}


def _wanted(source: Source, job: Job) -> bool:
    """Whether this reading is still the one to have: the source was not deleted, nor corrected, nor is it read anew."""
    later = Job.objects.filter(course=job.course_id, work="read", arguments__source=source.pk, created__gt=job.created)
    return Source.objects.filter(pk=source.pk, sha256=source.sha256).exists() and not later.exists()


def _refuse_unwanted(source: Source, job: Job) -> None:
    """Asked within the transaction that stores what was read. Raises NoLongerWanted."""
    if not _wanted(source, job):
        raise NoLongerWanted


def _set_problem(source: Source, job: Job, problem: dict[str, Any]) -> None:
    with transaction.atomic():
        _refuse_unwanted(source, job)
        Source.objects.filter(pk=source.pk).update(problem=problem)


def options_of(source: Source) -> ReadOptions:
    """What was said about how a source is to be read, and about headings of the course's sheets."""
    said = source.options
    columns = source.course.columns | (said.get("columns") or {})
    keys = [KeyLine(keys["name"], number, text) for keys in said.get("keys") or [] for number, text in keys["lines"]]
    habits = {name: str(said.get(name) or "") for name in ("key_habit", "numbering", "lettering", "aside")}
    return ReadOptions(roles=said.get("roles") or {}, columns=columns, key_lines=keys, **habits)  # type: ignore[arg-type]


def join_keys(keys: Source, test: Source, user: Any) -> Job:
    """Reads a test again with the keys of another source of its course, which stays with it from then on.

    Raises NotPossible where the one holds no keys or the other is no document.
    """
    must_edit(user, keys)
    must_edit(user, test)
    reading = test.readings.filter(current=True).first()
    if keys.course_id != test.course_id or reading is None or not format_named(reading.format).document:
        raise NotPossible("Keys can be joined to a document of the same course.", "Choose the test that they are for.", status=422)
    lines = [(key.number, key.text) for key in apart.read_keys(SOURCES.path(keys.sha256), _name_of(keys))]
    held = {"name": keys.name, "lines": lines}
    with transaction.atomic():
        test, keys = (_row(source) for source in (test, keys))
        test.options = test.options | {"keys": [*(test.options.get("keys") or []), held]}
        test.save(update_fields=["options"])
        keys.delete()
        return start_job(test.course, user, "read", f"Read {test.name} with {held['name']}", {"source": test.pk})


def part_keys(test: Source, user: Any) -> Job:
    """Reads a test again without the keys of other sources, which become sources again."""
    must_edit(user, test)
    with transaction.atomic():
        test = _row(test)
        held = test.options.get("keys") or []
        test.options = {name: value for name, value in test.options.items() if name != "keys"}
        test.save(update_fields=["options"])
        for keys in held:
            text = "\n".join(line for _, line in keys["lines"])
            add_source(test.course, user, keys["name"], io.BytesIO(text.encode()))
        return start_job(test.course, user, "read", f"Read {test.name}", {"source": test.pk})


def _row(source: Source) -> Source:
    """The source as it is now, within the transaction of a change."""
    return get_object_or_404(Source.objects.select_related("course"), pk=source.pk)


def _name_of(source: Source) -> str:
    """The name that a person knows, by which the core names a source."""
    return source.name.replace("/", "_")


def _read(
    source: Source,
    format_name: str | None,
    progress: Progress | None,
    wanted: Callable[[], bool] | None,
    bounds: Bounds = apart.READING,
    path: Path | None = None,
) -> AbstractContextManager[CoreReading]:
    scratch = Path(settings.SCRATCH)
    return apart.read(
        path or SOURCES.path(source.sha256),
        _name_of(source),
        scratch,
        format_name,
        source.expected,
        options_of(source),
        progress,
        wanted,
        bounds,
    )


def delete_source(source: Source, user: Any) -> None:
    """Puts a source away with its readings: nobody sees it, and undo brings it back; what is being read of it goes on."""
    must_edit(user, source)
    with Recorder(source.course, user, f"Put away {source.name}") as record:
        now = record.current(source)
        before, now.put_away = fields_of(now), timezone.now()
        record.save("source", [(now, before)])


@purges
def purge_sources() -> int:
    """Removes for good what was put away longer ago than it is kept, one source at a time; returns how many."""
    gone = list(Source.objects.filter(put_away__lt=timezone.now() - KEPT_FOR))
    for source in gone:
        for reading in source.readings.all():
            discard(reading)
        source.delete()
        forget(source.sha256)
    return len(gone)


def correct_text(reading: Reading, user: Any, text: str, roles: dict[str, str] | None = None) -> Reading:
    """Replaces a text source's text, and the roles given by hand where they come along, and reads it again at once."""
    must_edit(user, reading)
    source = reading.source
    if not is_text(reading):
        raise NotPossible("Only text can be corrected in place.", "Edit the items instead.")
    before = source.sha256
    if roles is not None:
        source.options = source.options | {"roles": roles}
    with (
        SOURCES.writing(io.BytesIO(text.encode())) as stored,
        _read(source, reading.format, None, None, apart.CORRECTING, stored.written) as read,
        _written(source, read) as succession,
        transaction.atomic(),
    ):
        now = _row(source)
        if now.sha256 != before or not Reading.objects.filter(pk=reading.pk, current=True).exists():
            raise Outdated(now.sha256[:16], {"reading": now.readings.filter(current=True).values_list("pk", flat=True).first()})
        stored.place()
        now.sha256, now.size = stored.sha256, stored.size
        now.options = now.options | ({} if roles is None else {"roles": roles})
        now.save(update_fields=["sha256", "size", "options"])
        made = succession.succeed()
    if before != stored.sha256:
        forget(before)
    return made


def newer_than(reading: Reading) -> int | None:
    """The reading that has taken the place of one, if any has."""
    if reading.current:
        return None
    return reading.source.readings.filter(current=True).values_list("pk", flat=True).first()


def is_text(reading: Reading) -> bool:
    """Whether a reading is of a plain text, which can be corrected in place."""
    return bool(reading.format) and format_named(reading.format).text


# So that those who type do not hold up all others: as many previews at once, and the rest are told to wait.
_previewing = threading.BoundedSemaphore(2)
MOST_WAIT = 3.0


def preview_text(text: str, format_name: str, roles: dict[str, str]) -> Preview:
    """What each line of a text would be read as, and what would be queried about it, without keeping anything."""
    if not _previewing.acquire(timeout=MOST_WAIT):
        raise NotPossible("Too many texts are being looked at just now.", "Wait a moment.", status=503)
    try:
        return apart.preview(text, format_name, roles)
    finally:
        _previewing.release()


def message_of(reading: Reading, kind: FindingKind) -> str:
    """What a finding of this kind says of the whole reading; nothing where there is none."""
    return next((finding["message"] for finding in reading.findings if finding["code"] == kind.code), "")


def source_text(reading: Reading) -> str:
    lines = [line["text"] for chunk in reading.chunks.all() for line in chunk.lines]
    return "\n".join(lines)
