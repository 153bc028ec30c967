"""Sources, readings and their items."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import File, Form, Router
from ninja.files import UploadedFile

from rogatum.core.checks import REPAIRS
from rogatum.core.documents import test_of_keys
from rogatum.core.findings.catalogue import needs_look
from rogatum.core.findings.keys import KEY_HABIT
from rogatum.core.formats import format_named
from rogatum.core.items import item_from
from rogatum.core.preview import Preview
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.web.bounds import Id, Offset
from rogatum.web.courses.history import version_of
from rogatum.web.courses.services import course_for
from rogatum.web.errors import Conflict, NotPossible, Problem
from rogatum.web.jobs.schemas import JobOut
from rogatum.web.pools.models import Pool
from rogatum.web.sources import services, taking
from rogatum.web.sources.models import Reading, ReadingItem, Source
from rogatum.web.sources.rules import readings_for, sources_for
from rogatum.web.sources.schemas import (
    ColumnOut,
    Counted,
    DismissIn,
    DropIn,
    HabitOut,
    ItemIn,
    KeysIn,
    LineOut,
    NamesOut,
    OthersOut,
    PasteIn,
    PreviewIn,
    ReadAgain,
    ReadFinding,
    ReadingItemOut,
    ReadingOut,
    RepairIn,
    SourceOut,
    StripCell,
    TakeIn,
    TestOut,
    TextIn,
    TextOut,
)
from rogatum.web.sources.services import item_at
from rogatum.web.sources.storing import CHUNK_LINES
from rogatum.web.sources.sums import Sums, sums_of

router = Router()


def _source_out(source: Source, reading: Reading | None, sums: Sums) -> SourceOut:
    out = SourceOut(
        id=source.pk,
        name=source.name,
        kind=source.kind,
        size=source.size,
        expected=source.expected,
        created=source.created,
        problem=Problem(**source.problem) if source.problem else None,
        keys_from=[keys["name"] for keys in source.options.get("keys") or []],
    )
    if reading is None:
        return out
    out.reading, out.format, out.title = reading.pk, reading.format, reading.title
    out.document = format_named(reading.format).document if reading.format else False
    out.items, out.types, out.worst, out.waiting, out.pools = sums.items, sums.types, sums.worst, sums.waiting, sums.pools
    out.unclaimed = len(reading.accounting.get("unclaimed", []))
    return out


@router.get("/courses/{course_id}/sources", response=list[SourceOut], operation_id="sources_list")
def list_sources(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    sources = list(Source.objects.filter(course=course))
    readings = {reading.source_id: reading for reading in Reading.objects.filter(source__in=sources, current=True)}
    sums = sums_of(reading.pk for reading in readings.values())
    shown = [
        _source_out(source, reading, sums.get(reading.pk if reading else 0, Sums()))
        for source, reading in ((source, readings.get(source.pk)) for source in sources)
    ]
    tests = [source for source in shown if source.document and source.items]
    for keys in (source for source in shown if source.problem and source.problem.keys):
        at = test_of_keys(keys.name, [test.name for test in tests])
        keys.likely_test = None if at is None else tests[at].id
    return shown


@router.post("/courses/{course_id}/sources", response=list[JobOut], operation_id="sources_upload")
def upload(request: HttpRequest, course_id: Id, files: File[list[UploadedFile]], paths: Form[list[str] | None] = None) -> object:
    """Files, each a source; with `paths`, the files of one folder, read together."""
    course = course_for(request.user, course_id)
    if not files:
        raise NotPossible("No file came along.", "Drop a file.", status=422)
    if paths and len(paths) == len(files):
        folder = paths[0].strip("/").split("/")[0] or "folder"
        return [services.add_folder(course, request.user, folder, [(p, f.file) for p, f in zip(paths, files, strict=True)])]
    return [services.add_source(course, request.user, f.name or "source", f.file) for f in files]


@router.post("/courses/{course_id}/sources/paste", response=JobOut, operation_id="sources_paste")
def paste(request: HttpRequest, course_id: Id, body: PasteIn) -> object:
    course = course_for(request.user, course_id)
    return services.add_paste(course, request.user, body.html or body.text, body.name, body.expected, dict(body.roles))


@router.post("/courses/{course_id}/sources/preview", response=Preview, operation_id="sources_preview")
def preview(request: HttpRequest, course_id: Id, body: PreviewIn) -> object:
    course_for(request.user, course_id)
    return services.preview_text(body.text, body.format, dict(body.roles))


@router.post("/sources/{source_id}/read", response=JobOut, operation_id="sources_read_again")
def read_again(request: HttpRequest, source_id: Id, body: ReadAgain) -> object:
    source = get_object_or_404(sources_for(request.user), pk=source_id)
    options = body.options.model_dump(exclude_none=True) if body.options else None
    return services.read_again(source, request.user, body.expected, body.format, options)


@router.post("/sources/{source_id}/keys", response=JobOut, operation_id="sources_keys_join")
def join_keys(request: HttpRequest, source_id: Id, body: KeysIn) -> object:
    """Joins a source that holds nothing but keys to the test that they are for."""
    mine = sources_for(request.user)
    return services.join_keys(get_object_or_404(mine, pk=source_id), get_object_or_404(mine, pk=body.test), request.user)


@router.delete("/sources/{source_id}/keys", response=JobOut, operation_id="sources_keys_part")
def part_keys(request: HttpRequest, source_id: Id) -> object:
    """Takes the keys of other sources away from a test."""
    return services.part_keys(get_object_or_404(sources_for(request.user), pk=source_id), request.user)


@router.delete("/sources/{source_id}", response=Counted, operation_id="sources_delete")
def delete_source(request: HttpRequest, source_id: Id) -> object:
    services.delete_source(get_object_or_404(sources_for(request.user), pk=source_id), request.user)
    return Counted(count=1)


def _reading(request: HttpRequest, reading_id: Id) -> Reading:
    return get_object_or_404(readings_for(request.user), pk=reading_id)


def _finding(data: dict[str, Any]) -> ReadFinding:
    label = REPAIRS[data["repair"]].label if data.get("repair") in REPAIRS else None
    return ReadFinding(**{k: v for k, v in data.items() if k != "item"}, repair_label=label)


@router.get("/readings/{reading_id}", response=ReadingOut, operation_id="readings_get")
def get_reading(request: HttpRequest, reading_id: Id) -> object:
    reading = _reading(request, reading_id)
    source, rows = reading.source, list(reading.items.all())
    return ReadingOut(
        id=reading.pk,
        source=source.pk,
        name=source.name,
        kind=source.kind,
        format=reading.format,
        title=reading.title,
        expected=source.expected,
        lines=reading.lines,
        is_text=services.is_text(reading),
        document=bool(reading.format) and format_named(reading.format).document,
        key_habit=reading.source.options.get("key_habit") or "",
        roles=source.options.get("roles") or {},
        columns=[ColumnOut(**column) for column in reading.columns],
        habits=[HabitOut(**habit, said=source.options.get(habit["about"]) or "") for habit in reading.habits],
        others=_others(rows),
        claimed=reading.accounting.get("claimed", 0),
        unclaimed=reading.accounting.get("unclaimed", []),
        findings=[_finding(f) for f in reading.findings],
        cells=[_cell(row) for row in rows],
        pools=[list(path) for path in dict.fromkeys(tuple(row.path) for row in rows)],
        key_found=services.message_of(reading, KEY_HABIT),
        chunk_lines=CHUNK_LINES,
        quizzes=[_test(quiz) for quiz in reading.quizzes],
    )


def _others(rows: list[ReadingItem]) -> list[OthersOut]:
    """The other readings of all items, together by how they differ."""
    found: dict[str, OthersOut] = {}
    for said in (finding["other"] for row in rows for finding in row.findings if finding.get("other")):
        entry = found.setdefault(said["kind"], OthersOut(kind=said["kind"], count=0, roles={}))
        entry.count += 1
        entry.roles |= said["roles"]
    return list(found.values())


def _test(said: dict[str, Any]) -> TestOut:
    quiz = CoreQuiz(**said)
    return TestOut(id=quiz.id, title=quiz.title, items=len(quiz.item_ids()), draws=sum(1 for part in quiz.parts if part.draw))


def _cell(row: ReadingItem) -> StripCell:
    return StripCell(
        position=row.position,
        type=row.type,
        text=row.text[:120],
        worst=row.worst,
        taken=row.taken_id is not None,
        dropped=row.dropped,
        needs_look=needs_look(row.worst) and row.taken_id is None and not row.dropped,
        codes=sorted({f["code"] for f in row.findings if not f.get("dismissed")}),
        first=row.place.get("first"),
        last=row.place.get("last"),
    )


def _item_out(row: ReadingItem) -> ReadingItemOut:
    item = item_from(row.body)
    stimulus = row.reading.stimuli.get(item.stimulus or "", {})
    return ReadingItemOut(
        position=row.position,
        item=item,
        path=row.path,
        where=row.place.get("where", ""),
        first=row.place.get("first"),
        last=row.place.get("last"),
        findings=[_finding(f) for f in row.findings],
        stimulus=stimulus.get("content"),
        taken=row.taken_id,
        dropped=row.dropped,
        edited=row.edited,
        version=version_of(row),
    )


@router.get("/readings/{reading_id}/items", response=list[ReadingItemOut], operation_id="readings_items")
def list_items(request: HttpRequest, reading_id: Id, first: Offset = 1, last: Offset = 40) -> object:
    """The items from one position to another, at most 200."""
    rows = _reading(request, reading_id).items.filter(position__gte=first, position__lte=min(last, first + 199))
    return [_item_out(row) for row in rows.select_related("reading")]


@router.get("/readings/{reading_id}/items/{position}", response=ReadingItemOut, operation_id="readings_item")
def get_item(request: HttpRequest, reading_id: Id, position: Id) -> object:
    return _item_out(item_at(_reading(request, reading_id), position))


@router.put(
    "/readings/{reading_id}/items/{position}", response={200: ReadingItemOut, 412: Conflict}, operation_id="readings_item_change"
)
def change_item(request: HttpRequest, reading_id: Id, position: Id, body: ItemIn) -> object:
    row = item_at(_reading(request, reading_id), position)
    return _item_out(services.edit_item(row, request.user, body.item, body.version))


@router.post("/readings/{reading_id}/repair", response=Counted, operation_id="readings_repair")
def repair(request: HttpRequest, reading_id: Id, body: RepairIn) -> object:
    reading = _reading(request, reading_id)
    return Counted(count=services.repair(reading, request.user, body.code, body.repair, body.positions))


@router.post("/readings/{reading_id}/dismiss", response=Counted, operation_id="readings_dismiss")
def dismiss(request: HttpRequest, reading_id: Id, body: DismissIn) -> object:
    return Counted(count=services.dismiss(_reading(request, reading_id), request.user, body.code, body.positions))


@router.post("/readings/{reading_id}/drop", response=Counted, operation_id="readings_drop")
def drop(request: HttpRequest, reading_id: Id, body: DropIn) -> object:
    return Counted(count=services.drop(_reading(request, reading_id), request.user, body.positions, body.dropped))


@router.get("/readings/{reading_id}/lines", response=list[LineOut], operation_id="readings_lines")
def get_lines(request: HttpRequest, reading_id: Id, chunk: Offset = 0) -> object:
    """One stretch of the source's lines; stretches count from 0 and have 400 lines."""
    found = _reading(request, reading_id).chunks.filter(number=chunk).first()
    return found.lines if found else []


@router.get("/readings/{reading_id}/text", response=TextOut, operation_id="readings_text")
def get_text(request: HttpRequest, reading_id: Id) -> object:
    reading = _reading(request, reading_id)
    return TextOut(text=services.source_text(reading), reading=reading.pk)


@router.put("/readings/{reading_id}/text", response={200: TextOut, 412: Conflict}, operation_id="readings_text_change")
def change_text(request: HttpRequest, reading_id: Id, body: TextIn) -> object:
    reading = services.correct_text(_reading(request, reading_id), request.user, body.text, body.roles)
    return TextOut(text=body.text, reading=reading.pk)


@router.post("/readings/{reading_id}/names", response=NamesOut, operation_id="readings_names")
def preview_names(request: HttpRequest, reading_id: Id, body: TakeIn) -> object:
    """What the pools will be called and how many items will be taken, before anything is done."""
    names, count = taking.names_of(_reading(request, reading_id), body.which, body.positions, body.pattern, body.purpose)
    return NamesOut(names=names, count=count)


@router.post("/readings/{reading_id}/take", response=JobOut, operation_id="readings_take")
def take(request: HttpRequest, reading_id: Id, body: TakeIn) -> object:
    reading = _reading(request, reading_id)
    if body.pool is not None:
        get_object_or_404(Pool, pk=body.pool, course=reading.source.course)
    return taking.start_take(reading, request.user, body.which, body.positions, body.model_dump())
