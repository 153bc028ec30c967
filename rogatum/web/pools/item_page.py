"""An item's own page: what it is, what it was, where it came from, where it is used, what is like it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.shortcuts import get_object_or_404

from rogatum.core.checks.advice import advise_item
from rogatum.core.finding import Finding
from rogatum.core.items import Item as CoreItem
from rogatum.core.items import item_from
from rogatum.core.items.differences import Line, changed_lines
from rogatum.web.courses.history import Recorder, worked_out
from rogatum.web.courses.models import Change
from rogatum.web.courses.rules import must
from rogatum.web.errors import NotPossible
from rogatum.web.pools.bodies import core_item, passage_of, set_body
from rogatum.web.pools.item_page_schemas import CameFrom, UsedIn
from rogatum.web.pools.models import Item, Pool
from rogatum.web.pools.rules import can_see, must_edit
from rogatum.web.pools.uses import Uses

MOST_VERSIONS = 50


@dataclass(frozen=True)
class Version:
    """A change of an item, with what reads differently since it, and whether the item can be brought back to before it."""

    change: Change
    lines: list[Line]
    moved: str
    restorable: bool


def versions_of(row: Item, user: Any) -> list[Version]:
    """What was done to an item, the newest first."""
    must(can_see(user, row))
    changes = Change.objects.filter(table="item", row=row.pk, operation__course=row.course).select_related("operation__user")
    found = list(changes.order_by("-id")[:MOST_VERSIONS])
    names = _pool_names(found)
    return [_version(change, names) for change in found]


def _pool_names(changes: list[Change]) -> dict[int, str]:
    keys = {said["pool_id"] for change in changes for said in (change.before, change.after) if said and "pool_id" in said}
    return dict(Pool.objects.filter(pk__in=keys).values_list("pk", "name"))


def _version(change: Change, names: dict[int, str]) -> Version:
    before, after = change.before or {}, change.after or {}
    lines: list[Line] = []
    if before.get("body") and after.get("body"):
        lines = changed_lines(item_from(before["body"]), item_from(after["body"]))
    moved = ""
    if before.get("pool_id") and after.get("pool_id"):
        moved = f"{names.get(before['pool_id'], 'a pool that is gone')} → {names.get(after['pool_id'], 'a pool that is gone')}"
    return Version(change, lines, moved, bool(before.get("body")) and bool(after))


def restore_version(row: Item, user: Any, operation: int) -> Item:
    """Brings an item back as it was before an operation changed it, as a change of its own."""
    must_edit(user, row)
    changes = Change.objects.filter(table="item", row=row.pk, operation__course=row.course, operation=operation)
    change = get_object_or_404(changes.select_related("operation"))
    if not change.before or not change.before.get("body") or not change.after:
        raise NotPossible("The item said the same before that.", "Choose a change of what it says.")
    label = f"Brought back “{row.text[:60]}” as it was before “{change.operation.label[:80]}”"
    item = item_from(change.before["body"])
    [found] = worked_out([row], lambda now: set_body(now, item))
    with Recorder(row.course, user, label) as record:
        return record.put("item", found)


def advice_on(row: Item) -> list[Finding]:
    """The advice on an item that the course has not put off."""
    item: CoreItem = core_item(row)
    return [advice for advice in advise_item(item, passage_of(row.stimulus)) if advice.code not in row.course.advice_off]


def came_from(row: Item) -> CameFrom:
    """Where an item came from: its source by name, and the place of it in Check where its reading is still there."""
    read = apps.get_model("sources.ReadingItem").objects.filter(taken=row, reading__current=True).order_by("-pk").first()
    return CameFrom(
        origin=row.origin, source=row.source, reading=read.reading_id if read else None, position=read.position if read else None
    )


def used_in(row: Item) -> list[UsedIn]:
    """The quizzes that have an item, or can draw it."""
    uses = Uses(row.course_id).of(row)
    titles = apps.get_model("quizzes.Quiz").objects.filter(pk__in=uses).order_by("title").values_list("pk", "title")
    return [UsedIn(quiz=quiz, title=title, how=uses[quiz]) for quiz, title in titles]
