"""Repairs that save something at a receiver: of one item or all, for it or in the pool."""

from __future__ import annotations

import io
from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.db.models import QuerySet
from django.utils import timezone

from rogatum import apart
from rogatum.core.admission import Gate
from rogatum.core.fidelity import marks_of
from rogatum.core.items import Item as CoreItem
from rogatum.core.items.changes import map_content
from rogatum.core.items.coarser import formulas_as
from rogatum.core.items.content import escape, formula_picture, media_refs, with_refs
from rogatum.core.items.walking import each_content
from rogatum.core.receivers.repairs import FORMULAS, PICTURES, SHORTEN, TURN, repaired
from rogatum.core.receivers.sheet import Sheet
from rogatum.web.courses import rules as courses
from rogatum.web.courses.history import Recorder, WorkedOut, in_parts, worked_out
from rogatum.web.courses.models import Course, CourseMedia
from rogatum.web.courses.services import add_media, own_media
from rogatum.web.errors import NotPossible
from rogatum.web.files import MEDIA
from rogatum.web.handoffs.banks import Chosen, id_of, row_of, wordings_of, written_as
from rogatum.web.handoffs.forecasting import line_for, offers_of
from rogatum.web.handoffs.models import Wording
from rogatum.web.handoffs.wordings import admitted, keep
from rogatum.web.jobs.models import Job
from rogatum.web.jobs.services import CHANGING, AtWork, Staged, start_job, work
from rogatum.web.pools import many
from rogatum.web.pools.bodies import core_item, set_body
from rogatum.web.pools.models import Item
from rogatum.web.pools.services import count_words
from rogatum.web.receivers.services import Known, receiver_known

Place = Literal["receiver", "pool"]
Change = Callable[[CoreItem], CoreItem]


def apply_repair(
    course: Course, user: Any, what: Chosen, receiver: Known, format_name: str, name: str, only: Sequence[int], place: Place
) -> tuple[int, Job | None]:
    """Applies a repair that is offered to all items that it would help, or to `only` these; these may be marked otherwise then.

    Returns to how many, and the job that does it where they are many. Raises NotPossible for one that is not offered, or that a
    person writes.
    """
    courses.must_edit(user, course)
    line = line_for(course, what, receiver, format_name)
    asked = {id_of(key) for key in only}
    offer = next((entry for entry in offers_of(line, asked) if entry["name"] == name), None)
    if offer is None or name == SHORTEN:
        raise NotPossible("That would save nothing here any more.", "Look at the forecast anew.", status=422)
    helped = {row_of(key) for key in offer["items"]}
    keys = [row.pk for row in what.rows if row.pk in helped]
    if not keys:
        raise NotPossible("That would save nothing of these items.", "Choose others.", status=422)
    repair = _PLACES[place](course, user, receiver, name, offer["label"], keys, bool(only))
    if len(keys) > many.AT_ONCE:
        said = {"items": keys, "receiver": receiver.key, "repair": name, "label": offer["label"], "place": place}
        said["anyway"] = bool(only)
        return len(keys), start_job(course, user, "repair-for-receiver", repair.words(len(keys)), said)
    found = repair.found_out(keys)
    with Recorder(course, user, "") as record:
        count = repair.write(found, record)
        record.label = repair.words(count)
    return count, None


@work("repair-for-receiver", lane=CHANGING)
def repair_work(job: Job, at_work: AtWork) -> None:
    """Finds out what each item becomes, and writes it in short transactions."""
    said, keys = job.arguments, job.arguments["items"]
    receiver = receiver_known(job.user, said["receiver"])
    repair = _PLACES[said["place"]](job.course, job.user, receiver, said["repair"], said["label"], keys, said.get("anyway", False))
    staged, count = Staged(at_work, job.label), 0
    for part in staged.each(keys, many.STEP):
        found = repair.found_out(part)
        with staged.step() as record:
            count += repair.write(found, record)
    with staged.finishing() as (record, finish):
        record.label = repair.words(count)
        finish({"count": count})


@dataclass(frozen=True)
class _Repair(ABC):
    """A repair under the name under which it was offered, of items by their keys: found out first, then written.

    What would leave an item marked otherwise than the pool's item is made only where it is wanted `anyway`.
    """

    course: Course
    user: Any
    receiver: Known
    name: str
    label: str
    keys: Sequence[int]
    anyway: bool

    def words(self, count: int) -> str:
        return f"{self.label}: {count_words(count)}, {self.where()}"

    @abstractmethod
    def where(self) -> str:
        """Where the items are repaired, in words."""

    @abstractmethod
    def found_out(self, keys: Sequence[int]) -> Any:
        """What items become."""

    @abstractmethod
    def write(self, found: Any, record: Recorder) -> int:
        """Writes what was found out; of what somebody changed since, it is found out again. Returns how many."""

    @property
    def _rows(self) -> QuerySet[Item]:
        return Item.objects.filter(course=self.course)

    def _made(self, row: Item, item: CoreItem) -> CoreItem | None:
        """The item after the repair, None where it stays as it is."""
        made = self._change(item)
        if self.name.startswith(f"{TURN}:") and not self.anyway and not marks_of(core_item(row), made).alike:
            return None
        return admitted(row, made, self._gate)

    @cached_property
    def _gate(self) -> Gate:
        return Gate(own_media(self.course))

    @cached_property
    def _change(self) -> Change:
        if self.name == FORMULAS:
            return _with_formula_pictures(self.course, self.user, self._contents())
        if self.name == PICTURES:
            return _with_smaller_pictures(self.course, self.user, self._contents(), self.receiver.sheet)
        return lambda item: repaired(item, self.name, self.receiver.sheet)

    def _contents(self) -> list[str]:
        """All that the items say, as they are written for the receiver."""
        rows = [row for part in in_parts(self.keys, many.STRETCH) for row in self._rows.filter(pk__in=part)]
        wordings = wordings_of(self.course, rows, self.receiver.key)
        return [content for row in rows for content in each_content(written_as(row, wordings))]


class _InPool(_Repair):
    def where(self) -> str:
        return "in the pool"

    def found_out(self, keys: Sequence[int]) -> list[WorkedOut[Item]]:
        return worked_out(self._rows.filter(pk__in=keys), self._become)

    def write(self, found: Sequence[WorkedOut[Item]], record: Recorder) -> int:
        return record.put_all("item", found, self._rows, ["updated"])

    def _become(self, row: Item) -> bool:
        made = self._made(row, core_item(row))
        if made is None:
            return False
        set_body(row, made)
        row.updated = timezone.now()
        return True


# An item, its body and how it was written for the receiver when it was looked at, and what it becomes there.
_Seen = tuple[Item, Any, CoreItem | None]


class _ForReceiver(_Repair):
    def where(self) -> str:
        return f"for {self.receiver.sheet.title}"

    def found_out(self, keys: Sequence[int]) -> list[_Seen]:
        rows = list(self._rows.filter(pk__in=keys))
        wordings = wordings_of(self.course, rows, self.receiver.key)
        return [(row, _said(row, wordings), self._made(row, written_as(row, wordings))) for row in rows]

    def write(self, found: Sequence[_Seen], record: Recorder) -> int:
        now = self._rows.in_bulk([row.pk for row, _, _ in found])
        wordings = wordings_of(self.course, now.values(), self.receiver.key)
        written = []
        for seen, said, item in found:
            if (row := now.get(seen.pk)) is not None:
                same = _said(row, wordings) == said
                now_made = item if same else self._made(row, written_as(row, wordings))
                if now_made is not None:
                    written.append((row, now_made))
        keep(record, self.receiver.key, written, self.label)
        return len(written)


def _said(row: Item, wordings: dict[int, Wording]) -> Any:
    return row.body, wordings[row.pk].body if row.pk in wordings else None


_PLACES: dict[Place, type[_Repair]] = {"pool": _InPool, "receiver": _ForReceiver}


# Repairs that need pictures made


def _with_formula_pictures(course: Course, user: Any, contents: Sequence[str]) -> Change:
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


def _with_smaller_pictures(course: Course, user: Any, contents: Sequence[str], sheet: Sheet) -> Change:
    named = {ref for content in contents for ref in media_refs(content)}
    smaller = {}
    for media in CourseMedia.objects.filter(course=course):
        if media.ref in named and _too_large(sheet, media):
            made = _reduced(course, user, sheet, media)
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
