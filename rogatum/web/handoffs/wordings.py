"""How items are written for one receiver, and repairs that save something there: of one or all, for it or in the pool."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, Literal

from django.conf import settings

from rogatum import apart
from rogatum.core.admission import Gate, admit_item
from rogatum.core.items import Item as CoreItem
from rogatum.core.items.changes import map_content
from rogatum.core.items.coarser import formulas_as
from rogatum.core.items.content import escape, formula_picture, media_refs, with_refs
from rogatum.core.items.walking import each_content
from rogatum.core.receivers.repairs import FORMULAS, PICTURES, SHORTEN, TURN, repaired
from rogatum.core.receivers.sheet import TARGETS, Sheet
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, fields_of
from rogatum.web.courses.models import Course, CourseMedia
from rogatum.web.courses.services import add_media, own_media
from rogatum.web.errors import NotPossible, Outdated
from rogatum.web.files import MEDIA
from rogatum.web.handoffs.banks import Chosen, row_of, wording_version, wordings_of, written_as
from rogatum.web.handoffs.forecasting import line_for, offers_of
from rogatum.web.handoffs.models import Wording
from rogatum.web.pools.bodies import core_item, set_body
from rogatum.web.pools.models import Item
from rogatum.web.receivers.services import Known

Place = Literal["receiver", "pool"]
Change = Callable[[CoreItem], CoreItem]


def write_for(course: Course, user: Any, row: Item, receiver: Known, item: CoreItem, version: str | None = None) -> Wording:
    """Keeps how an item is written for a receiver, by hand; the pool's item stays. Raises Outdated over an unseen change."""
    courses.must_edit(user, course)
    with Recorder(course, user, f"Wrote “{row.text[:50]}” for {receiver.sheet.title}") as record:
        row = record.current(row)
        now = wording_version(row, receiver.key)
        if version is not None and version != now:
            raise Outdated(now, {"body": written_as(row, wordings_of(course, [row], receiver.key)).model_dump(mode="json")})
        return _keep(record, row, receiver.key, _admitted(row, item, Gate(own_media(course))), "written by hand")


def forget_wording(course: Course, user: Any, row: Item, receiver: Known) -> None:
    """Takes an item to the receiver as it is in its pool again."""
    courses.must_edit(user, course)
    with Recorder(course, user, f"Took back how “{row.text[:50]}” was written for {receiver.sheet.title}") as record:
        record.delete(Wording.objects.filter(course=course, item=row, receiver=receiver.key))


def apply_repair(
    course: Course, user: Any, what: Chosen, receiver: Known, format_name: str, name: str, only: Sequence[int], place: Place
) -> int:
    """Applies a repair that is offered to all items that it would help, or to `only` these; returns to how many.

    Raises NotPossible for one that is not offered, or that a person writes.
    """
    courses.must_edit(user, course)
    line = line_for(course, what, receiver, format_name)
    offer = next((entry for entry in offers_of(line) if entry["name"] == name), None)
    if offer is None or name == SHORTEN or (name.startswith(f"{TURN}:") and name.partition(":")[2] not in TARGETS):
        raise NotPossible("That would save nothing here any more.", "Look at the forecast anew.", status=422)
    helped = {row_of(key) for key in offer["items"]}
    rows = [row for row in what.rows if row.pk in helped and (not only or row.pk in only)]
    if not rows:
        raise NotPossible("That would save nothing of these items.", "Choose others.", status=422)
    change = _change(course, user, rows, receiver, name)
    where = f"for {receiver.sheet.title}" if place == "receiver" else "in the pool"
    with Recorder(course, user, f"{offer['label']}: {len(rows)} {'item' if len(rows) == 1 else 'items'}, {where}") as record:
        gate, wordings = Gate(own_media(course)), wordings_of(course, rows, receiver.key)
        for row in map(record.current, rows):
            if place == "receiver":
                item = change(written_as(row, wordings))
                _keep(record, row, receiver.key, _admitted(row, item, gate), offer["label"])
            else:
                before = fields_of(row)
                set_body(row, _admitted(row, change(core_item(row)), gate))
                row.save()
                record.changed("item", row, before)
    return len(rows)


def _admitted(row: Item, item: CoreItem, gate: Gate) -> CoreItem:
    return admit_item(item.model_copy(update={"id": row.body["id"]}), gate)


def _keep(record: Recorder, row: Item, receiver: str, item: CoreItem, done: str) -> Wording:
    body, found = item.model_dump(mode="json"), Wording.objects.filter(item=row, receiver=receiver).first()
    if found is None:
        made = Wording.objects.create(
            course_id=row.course_id, item=row, receiver=receiver, body=body, digest=row.digest, done=[done]
        )
        record.created("wording", [made])
        return made
    before = fields_of(found)
    kept = found.done if found.digest == row.digest else []
    found.body, found.digest, found.done = body, row.digest, list(dict.fromkeys([*kept, done]))
    found.save()
    record.changed("wording", found, before)
    return found


# Repairs that need pictures made


def _change(course: Course, user: Any, rows: Sequence[Item], receiver: Known, name: str) -> Change:
    if name == FORMULAS:
        return _with_formula_pictures(course, user, rows, receiver)
    if name == PICTURES:
        return _with_smaller_pictures(course, user, rows, receiver)
    return lambda item: repaired(item, name, receiver.sheet)


def _with_formula_pictures(course: Course, user: Any, rows: Sequence[Item], receiver: Known) -> Change:
    wordings = wordings_of(course, rows, receiver.key)
    contents = [content for row in rows for content in each_content(written_as(row, wordings))]
    formulas = [tex for content in contents for tex in _formulas_in(content)]
    drawn = apart.formula_pictures(list(dict.fromkeys(formulas)), Path(settings.SCRATCH))
    refs = {
        tex: add_media(course, user, f"formula-{number}.png", io.BytesIO(data), len(data)).ref
        for number, (tex, data) in enumerate(drawn.items(), 1)
    }

    def shown(tex: str) -> str:
        return formula_picture(refs[tex], tex) if tex in refs else escape(tex)

    def drawn_content(content: str) -> str:
        # What cannot be set stays the formula that it is.
        return formulas_as(content, shown) if all(tex in refs for tex in _formulas_in(content)) else content

    return lambda item: map_content(item, drawn_content)


def _formulas_in(content: str) -> list[str]:
    found: list[str] = []
    formulas_as(content, lambda tex: found.append(tex) or "")
    return found


def _with_smaller_pictures(course: Course, user: Any, rows: Sequence[Item], receiver: Known) -> Change:
    wordings = wordings_of(course, rows, receiver.key)
    named = {ref for row in rows for content in each_content(written_as(row, wordings)) for ref in media_refs(content)}
    smaller = {}
    for media in CourseMedia.objects.filter(course=course):
        if media.ref in named and _too_large(receiver.sheet, media):
            made = _reduced(course, user, receiver.sheet, media)
            if made:
                smaller[media.ref] = made
    if not smaller:
        raise NotPossible("These pictures cannot be made small enough.", "Draw them anew, or leave them out.", status=422)
    return lambda item: map_content(item, lambda content: with_refs(content, lambda ref: smaller.get(ref, ref)))


def _too_large(sheet: Sheet, media: CourseMedia) -> bool:
    limits = sheet.limits.pictures
    return bool(limits and limits.bytes and media.size > limits.bytes)


def _reduced(course: Course, user: Any, sheet: Sheet, media: CourseMedia) -> str:
    """The address of a smaller picture; empty where none can be made."""
    limits = sheet.limits.pictures
    assert limits is not None and limits.bytes is not None
    made = apart.smaller_picture(MEDIA.path(media.sha256), limits.bytes, limits.kinds or [], Path(settings.SCRATCH))
    if made is None:
        return ""
    data, kind = made
    suffix = kind.partition("/")[2].replace("jpeg", "jpg")
    stem = media.name.rpartition(".")[0] or media.name
    return add_media(course, user, f"{stem}-smaller.{suffix}", io.BytesIO(data), len(data)).ref
