"""Items of a reading, one at a time: by hand, by a decision of one key; and what several share."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404

from rogatum.core.admission import Gate, admit_item, missing_media
from rogatum.core.checks import check_item, stays
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.items.deciding import Decision, decide, decision_words
from rogatum.web.courses.history import Recorder, fields_of, worked_out
from rogatum.web.courses.services import own_media
from rogatum.web.errors import NotPossible
from rogatum.web.sources.models import Reading, ReadingItem
from rogatum.web.sources.rules import must_edit
from rogatum.web.sources.storing import set_findings, set_item

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


def become(row: ReadingItem, changed: CoreItem, by_hand: bool = False) -> None:
    """Makes a row what an item becomes, with what checks find of it then."""
    recheck(row, changed, by_hand)
    set_item(row, changed, row.reading.stimuli.get(changed.stimulus or "", {}).get("content", ""))
    row.edited = True


def edit_item(row: ReadingItem, user: Any, changed: CoreItem, version: str | None = None) -> ReadingItem:
    """Saves an item over the `version` that was seen. Raises Outdated where it is another by now."""
    must_edit(user, row)
    course = row.reading.source.course
    item = admit_item(changed.model_copy(update={"id": row.body["id"]}), Gate(own_media(course)))
    [found] = worked_out([row], lambda now: become(now, item, by_hand=True))
    with Recorder(course, user, f"Edited item {row.position} of {row.reading.source.name}") as record:
        return record.put("readingitem", found, version)


def decide_item(row: ReadingItem, user: Any, decision: Decision) -> ReadingItem:
    """Makes a decision of one key on an item as it is now. Raises NoSuchKey and NoSuchType."""
    must_edit(user, row)
    source = row.reading.source

    def decided(row: ReadingItem) -> None:
        if row.taken_id is not None:
            raise NotPossible("This item was taken already.", "Change it in its pool.")
        item = decide(item_from(row.body), decision)
        if decision.kind == "outcome":  # the one decision that is a text
            item = admit_item(item, Gate(own_media(source.course)))
        become(row, item, by_hand=decision.kind in _BY_HAND)

    [found] = worked_out([row], decided)
    with Recorder(source.course, user, f"{decision_words(decision)} of item {row.position} of {source.name}") as record:
        return record.put("readingitem", found)


def set_passage(reading: Reading, user: Any, key: str, content: str) -> Reading:
    """Sets what the items of a reading share under a key; a new key is a new passage."""
    must_edit(user, reading)
    course = reading.source.course
    admitted = Gate(own_media(course)).content(content)
    with Recorder(course, user, f"Changed a passage of {reading.source.name}") as record:
        reading = record.current(reading)
        before = fields_of(reading)
        was = reading.stimuli.get(key, {}).get("content")
        reading.passages_read = {key: was} | reading.passages_read
        reading.stimuli = reading.stimuli | {key: {"id": key, "content": admitted}}
        reading.save(update_fields=["stimuli", "passages_read"])
        record.changed("reading", reading, before)
    return reading


def item_at(reading: Reading, position: int) -> ReadingItem:
    return get_object_or_404(ReadingItem.objects.select_related("reading__source__course"), reading=reading, position=position)
