"""From the core's reading to rows, stored beside those of the reading that is there (`succession.py` puts them in its place)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from typing import Any, BinaryIO

from django.db import transaction

from rogatum.core.checks.advice import advise_item
from rogatum.core.checks.traits import traits_of
from rogatum.core.finding import LEVELS, Finding
from rogatum.core.formats import Reading as CoreReading
from rogatum.core.formats import ViewLine
from rogatum.core.items import Bank, item_from
from rogatum.core.items import Item as CoreItem
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import plain_text, with_refs
from rogatum.core.items.identity import identities
from rogatum.core.items.key import marks_in_words
from rogatum.core.quizzes.model import renumbered
from rogatum.web.courses.recorded import follows_from, left_behind_by
from rogatum.web.courses.services import store_media
from rogatum.web.database.steps import in_steps
from rogatum.web.files import SOURCES, Stored
from rogatum.web.sources.models import Reading, ReadingItem, Source, ViewChunk

CHUNK_LINES = 400
# How many items one short transaction stores.
STEP = 100
SEVERITY = {"": 0} | {level: rank for rank, level in enumerate(reversed(LEVELS), 1)}


@contextmanager
def kept(stream: BinaryIO) -> Iterator[Stored]:
    """Keeps bytes for the source that is made of them within the context, which is one transaction; without it, nothing is kept."""
    with SOURCES.writing(stream) as stored:
        try:
            with transaction.atomic():
                stored.place()
                yield stored
        except BaseException:
            forget(stored.sha256)
            raise


def forget(sha256: str) -> None:
    """Removes bytes that no source is made of any more; no source can be made of them meanwhile."""
    with transaction.atomic():
        if not Source.objects.filter(sha256=sha256).exists():
            SOURCES.drop(sha256)


def worst_of(findings: list[dict[str, object]]) -> str:
    """The worst level among findings that were not dismissed."""
    open_levels = [str(f["level"]) for f in findings if not f.get("dismissed")]
    return max(open_levels, key=SEVERITY.__getitem__, default="")


def set_item(row: ReadingItem, item: CoreItem, passage: str = "") -> None:
    """Puts an item into a row, with what follows from it; `passage` is the content of what it shares with others."""
    row.type, row.text, row.points = item.type, plain_text(item.stem), item.points
    row.body = item.model_dump(mode="json")
    row.traits = traits_of(item).model_dump(mode="json")
    dismissed = {advice["code"] for advice in row.advice if advice.get("dismissed")}
    advised = [advice.model_dump() for advice in advise_item(item, passage, row.place.get("where", ""))]
    row.advice = [advice | {"dismissed": True} if advice["code"] in dismissed else advice for advice in advised]


@follows_from("readingitem")
def set_columns(rows: Sequence[ReadingItem]) -> Sequence[str]:
    """Sets the columns of rows that follow from their bodies; returns the names of these."""
    passages = dict(Reading.objects.filter(pk__in={row.reading_id for row in rows}).values_list("pk", "stimuli"))
    for row in rows:
        item = item_from(row.body)
        set_item(row, item, passages.get(row.reading_id, {}).get(item.stimulus or "", {}).get("content", ""))
    return ("type", "text", "points", "body", "traits", "advice")


@left_behind_by("readingitem")
def of_old_readings(keys: Collection[int]) -> set[int]:
    """The items of readings that were made anew since."""
    return set(ReadingItem.objects.filter(pk__in=keys, reading__current=False).values_list("pk", flat=True))


@left_behind_by("reading")
def old_readings(keys: Collection[int]) -> set[int]:
    """The readings that were made anew since."""
    return set(Reading.objects.filter(pk__in=keys, current=False).values_list("pk", flat=True))


def set_findings(row: ReadingItem, findings: list[dict[str, object]]) -> None:
    row.findings, row.worst = findings, worst_of(findings)


@dataclass
class Written:
    """A reading that is stored and that nobody sees yet, with its items."""

    reading: Reading
    rows: list[ReadingItem]


def write_reading(source: Source, read: CoreReading) -> Written:
    """Stores a reading beside the one that a source has, in short transactions."""
    bank = read.bank
    refs = store_media(source.course, read.media)
    positions = {item.id: str(position) for position, item in enumerate(bank.items, 1)}
    reading = Reading(
        source=source,
        current=False,
        format=bank.source.format,
        title=bank.title[:300],
        findings=[f.model_dump() for f in bank.findings if f.item is None or bank.item(f.item) is None],
        accounting=bank.accounting.model_dump(),
        stimuli={s.id: {"id": s.id, "content": _moved(s.content, refs)} for s in bank.stimuli},
        quizzes=[renumbered(quiz, positions).model_dump(mode="json") for quiz in bank.quizzes],
        columns=[asdict(column) for column in read.columns],
        habits=[asdict(habit) for habit in read.habits],
        lines=len(read.view),
    )
    rows = _rows_of(reading, bank, refs)
    lines = [_line(line, positions, refs) for line in read.view]
    chunks = [lines[start : start + CHUNK_LINES] for start in range(0, len(lines), CHUNK_LINES)]
    reading.save()
    try:
        for row in rows:
            row.reading = reading
        for part in in_steps(rows, STEP):
            ReadingItem.objects.bulk_create(part)
        for shown in in_steps(enumerate(chunks), STEP // 10):
            ViewChunk.objects.bulk_create([ViewChunk(reading=reading, number=n, lines=chunk) for n, chunk in shown])
    except BaseException:
        discard(reading)
        raise
    return Written(reading, rows)


def discard(reading: Reading) -> None:
    """Removes a reading that is not wanted any more."""
    for part in in_steps(ReadingItem.objects.filter(reading=reading).values_list("pk", flat=True), STEP * 10):
        ReadingItem.objects.filter(pk__in=part).delete()
    reading.delete()


def _rows_of(reading: Reading, bank: Bank, refs: dict[str, str]) -> list[ReadingItem]:
    by_item: dict[str, list[Finding]] = defaultdict(list)
    for finding in bank.findings:
        if finding.item:
            by_item[finding.item].append(finding)
    paths, known = bank.pool_paths(), identities(bank)
    rows = []
    for position, item in enumerate(bank.items, 1):
        row = ReadingItem(reading=reading, position=position, read_digest=known[item.id].whole, path=list(paths.get(item.id, ())))
        place = bank.places.get(item.id)
        row.place = place.model_dump() if place else {}
        row.marked = marks_in_words(item)
        passage = reading.stimuli.get(item.stimulus or "", {}).get("content", "")
        set_item(row, map_content(item, lambda content: _moved(content, refs)) if refs else item, passage)
        set_findings(row, [f.model_dump() for f in by_item[item.id]])
        rows.append(row)
    return rows


def _line(line: ViewLine, positions: dict[str, str], refs: dict[str, str]) -> dict[str, Any]:
    """A line as it is stored: its item by position, its pictures by their addresses in the course."""
    item = int(positions[line.item]) if line.item in positions else None
    return asdict(line) | {"item": item, "html": _moved(line.html, refs) if refs else line.html}


def _moved(content: str, refs: dict[str, str]) -> str:
    return with_refs(content, lambda ref: refs.get(ref, ref))
