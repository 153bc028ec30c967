"""Sources: adding, reading, taking several as one, comparing two readings of one test."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import File, Form, Router
from ninja.files import UploadedFile
from pydantic import StringConstraints

from rogatum.core.documents import test_of_keys
from rogatum.core.fidelity import Ledger
from rogatum.core.formats import format_named
from rogatum.core.preview import Preview
from rogatum.web.bounds import Id
from rogatum.web.courses.models import Course
from rogatum.web.courses.schemas import Counted
from rogatum.web.courses.services import course_for
from rogatum.web.errors import NotPossible, Problem
from rogatum.web.jobs.schemas import CountedOrJob, JobOut
from rogatum.web.pools.models import Pool
from rogatum.web.sources import batches, comparing, foreseeing, looking, many, services, taking
from rogatum.web.sources.models import Batch, Reading, Source
from rogatum.web.sources.rules import sources_for
from rogatum.web.sources.schemas import (
    AsideIn,
    BatchIn,
    BatchOut,
    ComparedOut,
    CompareIn,
    ComparisonOut,
    ForeseenOut,
    GoOnIn,
    KeysIn,
    LookOut,
    PasteIn,
    PreviewIn,
    ReadAgain,
    RepairAllIn,
    SourceOut,
    TakeAllIn,
)
from rogatum.web.sources.shown import shown_finding
from rogatum.web.sources.sums import Sums, sums_of

router = Router()
# What the page calls a drop: its files have the same.
Drop = Annotated[str, StringConstraints(max_length=64)]


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
        aside=source.aside,
    )
    if reading is None:
        return out
    out.reading, out.format, out.title = reading.pk, reading.format, reading.title
    out.document = format_named(reading.format).document if reading.format else False
    out.items, out.types, out.worst, out.waiting, out.pools = sums.items, sums.types, sums.worst, sums.waiting, sums.pools
    out.unclaimed, out.sound = len(reading.accounting.get("unclaimed", [])), sums.sound
    out.findings = [shown_finding(f) for f in reading.findings if f.get("repair") and not f.get("dismissed")]
    return out


@router.get("/courses/{course_id}/sources", response=list[SourceOut], operation_id="sources_list")
def list_sources(request: HttpRequest, course_id: Id) -> object:
    course = course_for(request.user, course_id)
    sources = list(Source.objects.filter(course=course, put_away=None).select_related("batch"))
    readings = {reading.source_id: reading for reading in Reading.objects.filter(source__in=sources, current=True)}
    sums = sums_of(reading.pk for reading in readings.values())
    shown = [
        _source_out(source, reading, sums.get(reading.pk if reading else 0, Sums()))
        for source, reading in ((source, readings.get(source.pk)) for source in sources)
    ]
    _set_batches(sources, shown)
    tests = [source for source in shown if source.document and source.items]
    for keys in (source for source in shown if source.problem and source.problem.keys):
        at = test_of_keys(keys.name, [test.name for test in tests])
        keys.likely_test = None if at is None else tests[at].id
    return shown


def _set_batches(sources: list[Source], shown: list[SourceOut]) -> None:
    """Says of sources that were dropped together in which batch they are; what came alone is in none."""
    held: dict[Batch, list[SourceOut]] = {}
    for source, out in zip(sources, shown, strict=True):
        if source.batch is not None:
            held.setdefault(source.batch, []).append(out)
    for batch, members in held.items():
        if len(members) > 1:
            name = batch.name or batches.usual_name([member.name for member in reversed(members)])
            for member in members:
                member.batch = BatchOut(id=batch.pk, name=name)


@router.post("/courses/{course_id}/sources", response=list[JobOut], operation_id="sources_upload")
def upload(
    request: HttpRequest,
    course_id: Id,
    files: File[list[UploadedFile]],
    paths: Form[list[str] | None] = None,
    drop: Form[Drop | None] = None,
) -> object:
    """Files, each a source; with `paths`, the files of one folder, read together. What has the same `drop` is one batch."""
    course = course_for(request.user, course_id)
    if not files:
        raise NotPossible("No file came along.", "Drop a file.", status=422)
    batch = batches.batch_of(course, request.user, drop or "")
    if paths and len(paths) == len(files):
        folder = paths[0].strip("/").split("/")[0] or "folder"
        members = [(p, f.file) for p, f in zip(paths, files, strict=True)]
        return [services.add_folder(course, request.user, folder, members, batch)]
    return [services.add_source(course, request.user, f.name or "source", f.file, batch=batch) for f in files]


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


@router.put("/sources/{source_id}/aside", response=Counted, operation_id="sources_aside")
def set_aside(request: HttpRequest, source_id: Id, body: AsideIn) -> object:
    """Sets a source aside, or brings it back."""
    batches.set_aside(get_object_or_404(sources_for(request.user), pk=source_id), request.user, body.aside)
    return Counted(count=1)


@router.patch("/batches/{batch_id}", response=BatchOut, operation_id="batches_change")
def change_batch(request: HttpRequest, batch_id: Id, body: BatchIn) -> object:
    batch = batches.name_batch(batches.batch_for(request.user, batch_id), request.user, body.name)
    return BatchOut(id=batch.pk, name=batch.name)


@router.post("/courses/{course_id}/repair", response=CountedOrJob, operation_id="sources_repair")
def repair_all(request: HttpRequest, course_id: Id, body: RepairAllIn) -> object:
    """Repairs what is said of several sources in all of them, as one."""
    course = course_for(request.user, course_id)
    readings = batches.readings_of(course, body.sources)
    return CountedOrJob.by(*many.repair_all(course, request.user, readings, body.code, body.repair))


@router.get("/courses/{course_id}/look", response=list[LookOut], operation_id="sources_look")
def get_look(request: HttpRequest, course_id: Id) -> object:
    """What needs a look in all sources of the course, in order."""
    return looking.to_look_at(course_for(request.user, course_id), request.user)


def _naming(body: TakeAllIn, course: Course) -> taking.Naming:
    below = get_object_or_404(Pool, pk=body.pool, course=course) if body.pool is not None else None
    return taking.Naming(body.pattern, body.purpose, below)


@router.post("/courses/{course_id}/take/preview", response=ForeseenOut, operation_id="sources_take_preview")
def preview_take(request: HttpRequest, course_id: Id, body: TakeAllIn) -> object:
    """What taking several sources as one would make, before anything is done."""
    course = course_for(request.user, course_id)
    return foreseeing.foresee(course, request.user, body.sources, body.which, _naming(body, course))


@router.post("/courses/{course_id}/take", response=JobOut, operation_id="sources_take")
def take_all(request: HttpRequest, course_id: Id, body: TakeAllIn) -> object:
    """Takes several sources as one."""
    course = course_for(request.user, course_id)
    _naming(body, course)
    arguments = body.model_dump(exclude={"sources", "which"})
    return batches.start_take_all(course, request.user, body.sources, body.which, arguments)


@router.post("/courses/{course_id}/compare", response=JobOut, operation_id="sources_compare")
def compare(request: HttpRequest, course_id: Id, body: CompareIn) -> object:
    """Compares the readings of two sources of the course."""
    course = course_for(request.user, course_id)
    a, b = (comparing.reading_of(course, source) for source in (body.a, body.b))
    return comparing.start_comparison(a, b, request.user)


def _compared(reading: Reading) -> ComparedOut:
    source = reading.source
    return ComparedOut(
        source=source.pk,
        reading=reading.pk,
        name=source.name,
        format=reading.format,
        items=reading.items.count(),
        aside=source.aside,
    )


@router.get("/comparisons/{comparison_id}", response=ComparisonOut, operation_id="comparisons_get")
def get_comparison(request: HttpRequest, comparison_id: Id) -> object:
    made = comparing.comparison_for(request.user, comparison_id)
    return ComparisonOut(id=made.pk, a=_compared(made.a), b=_compared(made.b), ledger=Ledger(**made.ledger))


@router.post("/comparisons/{comparison_id}/go-on", response=ComparedOut, operation_id="comparisons_go_on")
def go_on(request: HttpRequest, comparison_id: Id, body: GoOnIn) -> object:
    """Goes on with one of the two readings; the other is set aside."""
    made = comparing.comparison_for(request.user, comparison_id)
    comparing.go_on_with(made, request.user, body.side)
    return _compared(made.a if body.side == "a" else made.b)
