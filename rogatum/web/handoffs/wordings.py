"""How items are written for one receiver by hand, and kept; the pool's items stay."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.utils import timezone

from rogatum.core.admission import Gate, admit_item
from rogatum.core.items import Item as CoreItem
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course
from rogatum.web.courses.services import own_media
from rogatum.web.errors import Outdated
from rogatum.web.handoffs.banks import wording_version, wordings_of, written_as
from rogatum.web.handoffs.models import Wording
from rogatum.web.pools.models import Item
from rogatum.web.receivers.services import Known


def write_for(course: Course, user: Any, row: Item, receiver: Known, item: CoreItem, version: str | None = None) -> Wording:
    """Keeps how an item is written for a receiver, by hand; the pool's item stays. Raises Outdated over an unseen change."""
    courses.must_edit(user, course)
    written = admitted(row, item, Gate(own_media(course)))
    with Recorder(course, user, f"Wrote “{row.text[:50]}” for {receiver.sheet.title}") as record:
        row = record.current(row)
        now = wording_version(row, receiver.key)
        if version is not None and version != now:
            raise Outdated(now, {"body": written_as(row, wordings_of(course, [row], receiver.key)).model_dump(mode="json")})
        [kept] = keep(record, receiver.key, [(row, written)], "written by hand")
    return kept


def forget_wording(course: Course, user: Any, row: Item, receiver: Known) -> None:
    """Takes an item to the receiver as it is in its pool again."""
    courses.must_edit(user, course)
    with Recorder(course, user, f"Took back how “{row.text[:50]}” was written for {receiver.sheet.title}") as record:
        record.delete(Wording.objects.filter(course=course, item=row, receiver=receiver.key))


def admitted(row: Item, item: CoreItem, gate: Gate) -> CoreItem:
    """What is to stand in a row, as clean as an item must be."""
    return admit_item(item.model_copy(update={"id": row.body["id"]}), gate)


def keep(record: Recorder, receiver: str, written: Sequence[tuple[Item, CoreItem]], done: str) -> list[Wording]:
    """Keeps how items are written for a receiver; `done` says in words what was done to each."""
    found = {
        wording.item_id: wording for wording in Wording.objects.filter(receiver=receiver, item__in=[row for row, _ in written])
    }
    known = [(found[row.pk], row, item) for row, item in written if row.pk in found]
    before = [fields_of(wording) for wording, _, _ in known]
    for wording, row, item in known:
        earlier = wording.done if wording.digest == row.digest else []
        wording.done = list(dict.fromkeys([*earlier, done]))
        wording.body, wording.digest, wording.updated = item.model_dump(mode="json"), row.digest, timezone.now()
    record.save("wording", zip([wording for wording, _, _ in known], before, strict=True), ["updated"])
    fresh = Wording.objects.bulk_create(
        Wording(
            course_id=row.course_id,
            item=row,
            receiver=receiver,
            body=item.model_dump(mode="json"),
            digest=row.digest,
            done=[done],
        )
        for row, item in written
        if row.pk not in found
    )
    record.created("wording", fresh)
    return [*(wording for wording, _, _ in known), *fresh]
