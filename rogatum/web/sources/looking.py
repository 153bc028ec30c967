"""Looking at readings: what needs a look over all sources, a source's parts, words in it, the reading as pages."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings

from rogatum import apart
from rogatum.core.checks.advice import advise_bank
from rogatum.core.checks.traits import Traits
from rogatum.core.finding import NEED_LOOK, Finding
from rogatum.core.formats import format_named
from rogatum.core.formats.shared.source_parts import SourcePart, parts_of
from rogatum.core.items import item_from
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import with_refs
from rogatum.core.items.identity import identity_of, words_of
from rogatum.core.items.parts import content_fields
from rogatum.core.pools.twins import Doubled, Spoken, doubled, languages
from rogatum.web.courses import rules as courses
from rogatum.web.courses.models import Course
from rogatum.web.courses.rules import must
from rogatum.web.courses.services import media_used
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree
from rogatum.web.sources.comparing import bank_of
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.rules import can_see
from rogatum.web.sources.storing import CHUNK_LINES
from rogatum.web.sources.taking import index_of, waiting

MOST_HITS = 500


@dataclass(frozen=True)
class ToLookAt:
    """The items of a reading that need a look."""

    reading: int
    source: str
    positions: list[int]


def to_look_at(course: Course, user: Any) -> list[ToLookAt]:
    """What needs a look in all sources of a course, in the order in which they came."""
    must(courses.can_see(user, course))
    rows = ReadingItem.objects.filter(reading__source__course=course, reading__current=True, reading__source__aside=False)
    rows = rows.filter(reading__source__put_away=None)
    rows = rows.filter(taken__isnull=True, dropped=False, worst__in=NEED_LOOK).order_by("reading__source_id", "position")
    found: dict[int, ToLookAt] = {}
    for reading, name, position in rows.values_list("reading", "reading__source__name", "position"):
        found.setdefault(reading, ToLookAt(reading, name, [])).positions.append(position)
    return list(found.values())


def lines_of(row: ReadingItem) -> list[str]:
    """The lines of an item's source; none where it is not shown line by line."""
    first, last = row.place.get("first"), row.place.get("last")
    if not first or not last:
        return []
    chunks = row.reading.chunks.filter(number__gte=(first - 1) // CHUNK_LINES, number__lte=(last - 1) // CHUNK_LINES)
    start = (first - 1) // CHUNK_LINES * CHUNK_LINES
    lines = [line["text"] for chunk in chunks for line in chunk.lines]
    return lines[first - 1 - start : last - start]


def source_parts(row: ReadingItem, user: Any) -> tuple[list[SourcePart], list[str]]:
    """An item's source as its parts, and its markup line by line; no parts for a format whose items have no markup."""
    must(can_see(user, row))
    outline = format_named(row.reading.format).outline if row.reading.format else None
    lines = lines_of(row)
    if outline is None or not lines:
        return [], lines
    where = row.place.get("where", "")
    unclaimed = [entry["text"] for entry in row.reading.accounting.get("unclaimed", []) if entry["where"] == where]
    return parts_of("\n".join(lines), outline, unclaimed), lines


@dataclass(frozen=True)
class Hit:
    """A line of a source that has the words: its index from 0, its number in its file, its text, and its item's position."""

    index: int
    number: int
    text: str
    item: int | None


def search_source(reading: Reading, user: Any, words: str) -> list[Hit]:
    """The lines of a source that hold words, whatever their case; at most 500."""
    must(can_see(user, reading))
    wanted = " ".join(words.split()).casefold()
    found: list[Hit] = []
    if not wanted:
        return found
    for chunk in reading.chunks.all().iterator(chunk_size=20):
        for offset, line in enumerate(chunk.lines):
            if wanted in " ".join(line["text"].split()).casefold():
                found.append(Hit(chunk.number * CHUNK_LINES + offset, line["number"], line["text"][:300], line["item"]))
                if len(found) == MOST_HITS:
                    return found
    return found


def bank_advice(rows: list[ReadingItem]) -> list[Finding]:
    """Advice over the whole of a reading: keys out of balance, and runs."""
    places = [(row.position, Traits(**row.traits).place()) for row in rows if not row.dropped]
    return advise_bank([(position, place) for position, place in places if place is not None])


def twins_of(reading: Reading, user: Any) -> tuple[list[Doubled], list[Spoken]]:
    """Items of a reading that stand twice, and its items by language where it has more than one."""
    must(can_see(user, reading))
    rows = reading.items.filter(taken__isnull=True, dropped=False).exclude(type="information")
    items = [(row.position, item_from(row.body)) for row in rows]
    return doubled(items), languages(items)


@dataclass(frozen=True)
class Known:
    """An item of a reading that the course's pools have already, the same or nearly: which one, and where that lies."""

    position: int
    item: int
    percent: float
    text: str
    path: list[str]


def known_of(reading: Reading, user: Any) -> list[Known]:
    """The items of a reading that the course has already; nothing is taken."""
    must(can_see(user, reading))
    course = reading.source.course
    index, same = index_of(course), dict(Item.objects.filter(course=course).values_list("digest", "pk"))
    found: list[tuple[int, int, float]] = []
    for row in waiting(reading, "all", []).exclude(type="information"):
        item = item_from(row.body)
        passage = reading.stimuli.get(row.body.get("stimulus") or "", {}).get("content", "")
        exact = same.get(identity_of(item, passage).whole)
        near = None if exact else index.near(words_of(item))
        if exact or near:
            found.append((row.position, exact or int(near.key), 100.0 if exact else near.percent))  # type: ignore[union-attr]
    rows, tree = Item.objects.in_bulk([key for _, key, _ in found]), PoolTree(course)
    return [
        Known(position, key, percent, rows[key].text, list(tree.path(rows[key].pool_id)))
        for position, key, percent in found
        if key in rows
    ]


def proof_pdf(reading: Reading, user: Any, with_key: bool) -> bytes:
    """A reading as pages to proof-read: what is not left out."""
    must(can_see(user, reading))
    bank = bank_of(reading, list(reading.items.filter(dropped=False)))
    contents = [*(c for item in bank.items for c in content_fields(item)), *(stimulus.content for stimulus in bank.stimuli)]
    files, refs = media_used(reading.source.course, contents)

    def renamed(content: str) -> str:
        return with_refs(content, lambda ref: refs.get(ref, ref))

    bank.items = [map_content(item, renamed) for item in bank.items] if refs else bank.items
    for stimulus in bank.stimuli:
        stimulus.content = renamed(stimulus.content)
    bank.media = [entry for entry, _ in files.values()]
    return apart.proof(bank, files, with_key, Path(settings.SCRATCH))
