"""Readings: their items, what is said of them, what is decided, the source beside them, the proof."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router

from rogatum.core.checks import check_item
from rogatum.core.checks.advice import advise_item
from rogatum.core.checks.sampling import most_wrong, proof_words, size_for
from rogatum.core.findings.catalogue import needs_look
from rogatum.core.findings.keys import KEY_HABIT
from rogatum.core.formats import format_named
from rogatum.core.items import item_from
from rogatum.core.quizzes.model import Quiz as CoreQuiz
from rogatum.web.bounds import Id, Name, Offset
from rogatum.web.courses.history import version_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.schemas import Counted
from rogatum.web.errors import Conflict
from rogatum.web.jobs.schemas import CountedOrJob, JobOut
from rogatum.web.pools.models import Pool
from rogatum.web.sources import foreseeing, items, looking, many, sampling, services, taking
from rogatum.web.sources.items import item_at
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.rules import readings_for
from rogatum.web.sources.schemas import (
    ChangeOut,
    CheckedOut,
    ColumnOut,
    DecisionIn,
    DismissIn,
    DoubledOut,
    DropIn,
    ForeseenOut,
    HabitOut,
    HitOut,
    ItemIn,
    KnownOut,
    LineOut,
    MarkOut,
    OthersOut,
    OwnPoolIn,
    PartsOut,
    PassageIn,
    PassageOut,
    PlanOut,
    ReadFinding,
    ReadingItemOut,
    ReadingOut,
    RepairIn,
    SampleIn,
    SampleOut,
    SampleSizeOut,
    SourcePartOut,
    SpokenOut,
    StripCell,
    TakeIn,
    TestOut,
    TextIn,
    TextOut,
    TwinsOut,
    VerdictIn,
    WishIn,
)
from rogatum.web.sources.shown import shown_finding
from rogatum.web.sources.storing import CHUNK_LINES

router = Router()


def _reading(request: HttpRequest, reading_id: Id) -> Reading:
    return get_object_or_404(readings_for(request.user), pk=reading_id)


def _advice(data: Sequence[dict[str, Any]], course: Course) -> list[ReadFinding]:
    """Advice as it is shown: without the kinds that the course put off."""
    return [shown_finding(advice) for advice in data if advice["code"] not in course.advice_off]


@router.get("/readings/{reading_id}", response=ReadingOut, operation_id="readings_get")
def get_reading(request: HttpRequest, reading_id: Id) -> object:
    reading = _reading(request, reading_id)
    source, rows = reading.source, list(reading.items.defer("body", "marked"))
    pools = _pools(reading)
    return ReadingOut(
        id=reading.pk,
        newer=services.newer_than(reading),
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
        findings=[shown_finding(f) for f in reading.findings],
        cells=[_cell(row, source.course, pools[tuple(row.path)]) for row in rows],
        pools=[list(path) for path in pools],
        advice=_advice([advice.model_dump() for advice in looking.bank_advice(rows)], source.course),
        has_parts=bool(reading.format) and format_named(reading.format).outline is not None,
        sample=_sample(reading),
        passages=_passages(reading),
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


def _passages(reading: Reading) -> list[PassageOut]:
    return [PassageOut(id=entry["id"], content=entry["content"]) for entry in reading.stimuli.values()]


def _sample(reading: Reading) -> SampleOut | None:
    sample = sampling.sample_of(reading)
    if sample is None:
        return None
    return SampleOut(
        seed=sample.seed,
        of=sample.of,
        drawn=sample.drawn,
        verdicts=sample.verdicts,
        looked=sample.looked,
        wrong=sample.wrong,
        most=most_wrong(sample.wrong, sample.looked, sample.of),
        next=sample.next,
        words=proof_words(sample.looked, sample.wrong, sample.of),
    )


def _cell(row: ReadingItem, course: Course, pool: int) -> StripCell:
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
        edited=row.edited,
        points=row.points,
        has=row.traits.get("has", []),
        advice=[a["code"] for a in row.advice if not a.get("dismissed") and a["code"] not in course.advice_off],
        pool=pool,
    )


def _pools(reading: Reading) -> dict[tuple[str, ...], int]:
    """The reading's pools by path, each with the number that its items name it by."""
    paths = reading.items.order_by("position").values_list("path", flat=True)
    return {path: n for n, path in enumerate(dict.fromkeys(map(tuple, paths)))}


def _item_out(row: ReadingItem, pools: dict[tuple[str, ...], int] | None = None) -> ReadingItemOut:
    item, course = item_from(row.body), row.reading.source.course
    stimulus = row.reading.stimuli.get(item.stimulus or "", {})
    return ReadingItemOut(
        position=row.position,
        item=item,
        path=row.path,
        where=row.place.get("where", ""),
        first=row.place.get("first"),
        last=row.place.get("last"),
        cell=_cell(row, course, (pools or _pools(row.reading))[tuple(row.path)]),
        findings=[shown_finding(f, item) for f in row.findings],
        advice=_advice(row.advice, course),
        stimulus=stimulus.get("content"),
        taken=row.taken_id,
        dropped=row.dropped,
        edited=row.edited,
        version=version_of(row),
    )


@router.get("/readings/{reading_id}/items", response=list[ReadingItemOut], operation_id="readings_items")
def list_items(request: HttpRequest, reading_id: Id, first: Offset = 1, last: Offset = 40) -> object:
    """The items from one position to another, at most 200."""
    reading = _reading(request, reading_id)
    rows = reading.items.filter(position__gte=first, position__lte=min(last, first + 199)).select_related("reading__source__course")
    pools = _pools(reading)
    return [_item_out(row, pools) for row in rows]


@router.get("/readings/{reading_id}/items/{position}", response=ReadingItemOut, operation_id="readings_item")
def get_item(request: HttpRequest, reading_id: Id, position: Id) -> object:
    return _item_out(item_at(_reading(request, reading_id), position))


@router.put(
    "/readings/{reading_id}/items/{position}", response={200: ReadingItemOut, 412: Conflict}, operation_id="readings_item_change"
)
def change_item(request: HttpRequest, reading_id: Id, position: Id, body: ItemIn) -> object:
    row = item_at(_reading(request, reading_id), position)
    return _item_out(items.edit_item(row, request.user, body.item, body.version))


@router.post("/readings/{reading_id}/repair", response=CountedOrJob, operation_id="readings_repair")
def repair(request: HttpRequest, reading_id: Id, body: RepairIn) -> object:
    reading = _reading(request, reading_id)
    return CountedOrJob.by(*many.repair(reading, request.user, body.code, body.repair, body.positions))


@router.post("/readings/{reading_id}/dismiss", response=CountedOrJob, operation_id="readings_dismiss")
def dismiss(request: HttpRequest, reading_id: Id, body: DismissIn) -> object:
    return CountedOrJob.by(*many.dismiss(_reading(request, reading_id), request.user, body.code, body.positions))


@router.post("/readings/{reading_id}/drop", response=CountedOrJob, operation_id="readings_drop")
def drop(request: HttpRequest, reading_id: Id, body: DropIn) -> object:
    return CountedOrJob.by(*many.drop(_reading(request, reading_id), request.user, body.positions, body.dropped))


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


@router.post("/readings/{reading_id}/names", response=ForeseenOut, operation_id="readings_names")
def preview_names(request: HttpRequest, reading_id: Id, body: TakeIn) -> object:
    """What the pools will be called and how many items will be taken, before anything is done."""
    reading = _reading(request, reading_id)
    below = get_object_or_404(Pool, pk=body.pool, course=reading.source.course) if body.pool is not None else None
    naming = taking.Naming(body.pattern, body.purpose, below)
    return foreseeing.foresee_one(reading, request.user, body.which, body.positions, naming)


@router.post("/readings/{reading_id}/take", response=JobOut, operation_id="readings_take")
def take(request: HttpRequest, reading_id: Id, body: TakeIn) -> object:
    reading = _reading(request, reading_id)
    if body.pool is not None:
        get_object_or_404(Pool, pk=body.pool, course=reading.source.course)
    return taking.start_take(reading, request.user, body.which, body.positions, body.model_dump())


@router.post("/readings/{reading_id}/items/{position}/decide", response=ReadingItemOut, operation_id="readings_item_decide")
def decide(request: HttpRequest, reading_id: Id, position: Id, body: DecisionIn) -> object:
    """Makes a decision of one key on an item."""
    return _item_out(items.decide_item(item_at(_reading(request, reading_id), position), request.user, body.decision))


@router.post("/readings/{reading_id}/mend/preview", response=PlanOut, operation_id="readings_mend_preview")
def preview_mending(request: HttpRequest, reading_id: Id, body: WishIn) -> object:
    """What a repair in a person's words would change, before and after."""
    made = many.plan_mending(_reading(request, reading_id), request.user, body.wish, body.positions, body.path)
    changes = [ChangeOut(position=c.position, before=c.before, after=c.after, shown=c.shown) for c in made.changes]
    return PlanOut(changes=changes, unmet=made.unmet)


@router.post("/readings/{reading_id}/mend", response=CountedOrJob, operation_id="readings_mend")
def mend(request: HttpRequest, reading_id: Id, body: WishIn) -> object:
    return CountedOrJob.by(*many.mend(_reading(request, reading_id), request.user, body.wish, body.positions, body.path))


@router.post("/readings/{reading_id}/pool", response=CountedOrJob, operation_id="readings_pool")
def put_into_pool(request: HttpRequest, reading_id: Id, body: OwnPoolIn) -> object:
    """Puts items into a pool of their own within the reading."""
    return CountedOrJob.by(*many.put_into_pool(_reading(request, reading_id), request.user, body.positions, body.name))


@router.put("/readings/{reading_id}/passages/{key}", response=list[PassageOut], operation_id="readings_passage")
def set_passage(request: HttpRequest, reading_id: Id, key: Name, body: PassageIn) -> object:
    """Sets a passage that items of the reading share; a new key is a new one."""
    return _passages(items.set_passage(_reading(request, reading_id), request.user, key, body.content))


@router.get("/readings/{reading_id}/known", response=list[KnownOut], operation_id="readings_known")
def get_known(request: HttpRequest, reading_id: Id) -> object:
    """The items that the course's pools have already, the same or nearly."""
    return [KnownOut(**asdict(known)) for known in looking.known_of(_reading(request, reading_id), request.user)]


@router.get("/readings/{reading_id}/twins", response=TwinsOut, operation_id="readings_twins")
def get_twins(request: HttpRequest, reading_id: Id) -> object:
    """Items that stand twice, and items by language where there is more than one."""
    doubled, spoken = looking.twins_of(_reading(request, reading_id), request.user)
    return TwinsOut(
        doubled=[DoubledOut(**group.model_dump()) for group in doubled],
        languages=[SpokenOut(**group.model_dump()) for group in spoken],
    )


@router.get("/readings/{reading_id}/items/{position}/parts", response=PartsOut, operation_id="readings_item_parts")
def get_parts(request: HttpRequest, reading_id: Id, position: Id) -> object:
    """An item's source as its parts, and its markup."""
    row = item_at(_reading(request, reading_id), position)
    parts, lines = looking.source_parts(row, request.user)
    return PartsOut(
        parts=[SourcePartOut(**vars(part) | {"spans": [list(span) for span in part.spans]}) for part in parts],
        marks=[MarkOut(words=words, share=share) for words, share in row.marked],
        markup="\n".join(lines),
        first=row.place.get("first") or 1,
    )


@router.get("/readings/{reading_id}/search", response=list[HitOut], operation_id="readings_search")
def search(request: HttpRequest, reading_id: Id, words: Name) -> object:
    """The lines of the source that hold words; at most 500."""
    return looking.search_source(_reading(request, reading_id), request.user, words)


@router.get("/readings/{reading_id}/sample/size", response=SampleSizeOut, operation_id="readings_sample_size")
def get_sample_size(request: HttpRequest, reading_id: Id, bound: Offset) -> object:
    """How many items are to be looked at so that, if none is wrong, at most `bound` of all are."""
    of = sampling.unflagged(_reading(request, reading_id), request.user).count()
    return SampleSizeOut(count=size_for(bound, of), of=of)


@router.post("/readings/{reading_id}/sample", response=SampleOut, operation_id="readings_sample_start")
def start_sample(request: HttpRequest, reading_id: Id, body: SampleIn) -> object:
    return _sample(sampling.start_sample(_reading(request, reading_id), request.user, body.count, body.bound, body.seed))


@router.put("/readings/{reading_id}/sample/{position}", response=SampleOut, operation_id="readings_sample_judge")
def judge_sample(request: HttpRequest, reading_id: Id, position: Id, body: VerdictIn) -> object:
    return _sample(sampling.judge_sample(_reading(request, reading_id), request.user, position, body.right))


@router.delete("/readings/{reading_id}/sample", response=Counted, operation_id="readings_sample_drop")
def drop_sample(request: HttpRequest, reading_id: Id) -> object:
    sampling.drop_sample(_reading(request, reading_id), request.user)
    return Counted(count=1)


@router.get("/readings/{reading_id}/proof", operation_id="readings_proof", include_in_schema=False)
def get_proof(request: HttpRequest, reading_id: Id, key: bool = True) -> HttpResponse:
    """The reading as pages to proof-read, in PDF, with or without the key."""
    reading = _reading(request, reading_id)
    response = HttpResponse(looking.proof_pdf(reading, request.user, key), content_type="application/pdf")
    response["Content-Disposition"] = 'inline; filename="proof.pdf"'
    return response


@router.post("/item-check", response=CheckedOut, operation_id="items_check")
def check_edited(request: HttpRequest, body: ItemIn) -> object:
    """What checks and advice say of an item that is being edited; nothing is stored."""
    found, advised = check_item(body.item), advise_item(body.item)
    return CheckedOut(
        findings=[shown_finding(finding.model_dump(), body.item) for finding in found],
        advice=[shown_finding(finding.model_dump()) for finding in advised],
    )
