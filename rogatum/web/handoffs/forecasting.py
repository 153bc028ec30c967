"""Forecasts of what is chosen, for receivers. What it holds is found once and kept for a while, since people ask again."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from threading import Lock
from typing import Any

from rogatum.core.formats import format_named
from rogatum.core.receivers.choosing import best_format
from rogatum.core.receivers.forecast import forecast, types_taken
from rogatum.core.receivers.outlook import Forecast
from rogatum.core.receivers.repairs import Offer, offers_at
from rogatum.core.receivers.survey import Survey
from rogatum.core.receivers.telling import item_as_json
from rogatum.web.courses.models import Course
from rogatum.web.errors import NotPossible
from rogatum.web.handoffs.banks import Chosen, bank_of, id_of, wording_version, wordings_of, written_as
from rogatum.web.handoffs.models import Wording
from rogatum.web.handoffs.naming import base_name
from rogatum.web.pools.models import Item
from rogatum.web.pools.tree import PoolTree
from rogatum.web.quizzes.storing import quiz_now
from rogatum.web.receivers.services import Known

_KEPT = 3
_surveys: OrderedDict[str, Survey] = OrderedDict()
_lock = Lock()


def survey_of(course: Course, what: Chosen, section: str = "") -> Survey:
    """The survey of what is chosen, as it is in the pools; one of the same content is not made again."""
    key = _state_of(course, what, section)
    with _lock:
        if key in _surveys:
            _surveys.move_to_end(key)
            return _surveys[key]
    survey = Survey(bank_of(course, what.title, what.rows, what.quiz, section=section)[0])
    with _lock:
        _surveys[key] = survey
        while len(_surveys) > _KEPT:
            _surveys.popitem(last=False)
    return survey


def _state_of(course: Course, what: Chosen, section: str) -> str:
    """What tells one state of all that is chosen from another, by its content."""
    tree = PoolTree(course)
    paths = {row.pool_id: tree.path(row.pool_id) for row in what.rows}
    quiz = quiz_now(what.quiz.pk, tree).model_dump_json() if what.quiz else ""
    rows = [(row.pk, row.digest, row.pool_id, row.points, row.stimulus) for row in what.rows]
    said = json.dumps([course.pk, what.title, section, quiz, sorted((key, path) for key, path in paths.items()), rows], default=str)
    return hashlib.sha256(said.encode()).hexdigest()


def _written_for(survey: Survey, course: Course, what: Chosen, receiver: Known, worded: Collection[int]) -> Survey:
    """The survey as it is for one receiver: with its own wordings, which are of these rows."""
    if not worded:
        return survey
    bank, _ = bank_of(course, what.title, [row for row in what.rows if row.pk in worded], receiver=receiver.key)
    own = {item.id: item for item in bank.items}
    # The passages of a part of the bank are numbered otherwise.
    kept = {item.id: item.stimulus for item in survey.bank.items}
    return survey.replaced({key: item.model_copy(update={"stimulus": kept.get(key)}) for key, item in own.items()}, bank.media)


@dataclass(frozen=True)
class Line:
    """What one receiver will make of what is chosen, in the best of its formats; `worded` items are written for it."""

    receiver: Known
    survey: Survey
    told: Forecast
    because: str
    worded: int


def line_for(
    course: Course, what: Chosen, receiver: Known, format_name: str = "", section: str = "", surveyed: Survey | None = None
) -> Line:
    """The forecast for one receiver; `surveyed` is what is chosen, where it was surveyed already."""
    worded = wordings_of(course, what.rows, receiver.key).keys()
    survey = _written_for(surveyed or survey_of(course, what, section), course, what, receiver, worded)
    name = base_name(course, what.title, receiver.sheet.title, section)
    if format_name:
        if format_name not in receiver.sheet.format_names():
            raise NotPossible(f"{receiver.sheet.title} does not take this format.", "Choose one that it takes.", status=422)
        told, because = forecast(survey.bank, receiver.sheet, format_name, survey, name), "You chose it."
    else:
        told, because = best_format(survey.bank, receiver.sheet, survey, name)
    return Line(receiver, survey, told, because, len(worded))


def lines_for(course: Course, what: Chosen, receivers: Sequence[Known]) -> Iterator[dict[str, Any]]:
    """A line for each receiver, as it is known."""
    yield {"title": what.title, "items": len(what.rows), "receivers": len(receivers)}
    surveyed = survey_of(course, what)
    for receiver in receivers:
        yield line_as_json(line_for(course, what, receiver, surveyed=surveyed))


def line_as_json(line: Line) -> dict[str, Any]:
    told, sheet = line.told, line.receiver.sheet
    return {
        "key": line.receiver.key,
        "title": sheet.title,
        "kind": sheet.kind,
        "format": told.format,
        "label": format_named(told.format).label,
        "because": line.because,
        **told.sums,
        "files": told.files,
        "worded": line.worded,
        "facets": _facet_sums(told),
        "quizzes": [
            {
                "title": quiz.title,
                "worst": quiz.worst,
                "facets": quiz.facets,
                "notes": [note.model_dump() for note in quiz.notes],
            }
            for quiz in told.quizzes
        ],
        "formats": [{"name": name, "label": format_named(name).label} for name in sheet.format_names()],
    }


def _facet_sums(told: Forecast) -> dict[str, dict[str, int]]:
    """How often each facet has each verdict, of what is not refused."""
    found: dict[str, dict[str, int]] = {}
    for item in told.items:
        if item.refused:
            continue
        for facet, verdict in item.facets.items():
            sums = found.setdefault(facet, {})
            sums[verdict] = sums.get(verdict, 0) + 1
    return found


_SIGNS = {"same": "=", "recast": "r", "changed": "c", "lost": "l", "added": "+"}


def rows_of(line: Line) -> list[dict[str, Any]]:
    """The matrix, an item a row: its verdicts as one sign each, in the order of the facets, and why it is refused."""
    return [
        {
            "id": item.id,
            "title": item.title,
            "type": item.type,
            "standing": item.standing,
            "for_students": item.for_students,
            "for_you": item.for_you,
            "signs": "" if item.refused else "".join(_SIGNS[verdict] for verdict in item.facets.values()),
            "why": item.why if item.refused else "",
        }
        for item in line.told.items
    ]


def offers_of(line: Line, only: Collection[str] = ()) -> list[dict[str, Any]]:
    """What would save something, each with the items that it would help: repairs, that leave every item marked as it was.

    Of `only` these items everything that makes them fit, also what leaves them marked otherwise.
    """
    taken = types_taken(line.receiver.sheet, line.told.format)
    found: dict[str, dict[str, Any]] = {}
    for place, told in enumerate(line.told.items):
        if told.standing in ("same", "added") or (only and told.id not in only):
            continue
        offers = offers_at(line.survey, place, told, line.receiver.sheet, taken)
        for offer in (offer for offer in offers if only or offer.is_repair):
            entry = found.setdefault(offer.name, _offer(offer) | {"items": []})
            entry["items"].append(told.id)
    return list(found.values())


def _offer(offer: Offer) -> dict[str, Any]:
    return {"name": offer.name, "label": offer.label, "by_hand": offer.by_hand, "facets": list(offer.facets)}


def detail_of(course: Course, row: Item, line: Line) -> dict[str, Any]:
    """All that is said of one item: why, what will be seen, what would save something, and how it is written for the receiver."""
    place = next((n for n, item in enumerate(line.survey.bank.items) if item.id == id_of(row)), None)
    if place is None:
        raise NotPossible("That item is not among what is chosen.", "Choose what it lies in.", status=404)
    told, item = line.told.items[place], line.survey.bank.items[place]
    wordings = wordings_of(course, [row], line.receiver.key)
    wording = wordings.get(row.pk)
    taken = types_taken(line.receiver.sheet, line.told.format)
    pool_item = written_as(row, {})
    offers = offers_at(line.survey, place, told, line.receiver.sheet, taken)
    return {
        "id": item.id,
        "row": row.pk,
        "told": item_as_json(told),
        "offers": [_offer(offer) | _marks(offer) for offer in offers],
        "item": pool_item.model_dump(mode="json"),
        "wording": written_as(row, wordings).model_dump(mode="json") if wording else None,
        "version": wording_version(row, line.receiver.key),
        "done": wording.done if wording else [],
        "left_aside": _left_aside(course, row, line.receiver.key),
        "limits": _limits(line),
    }


def _left_aside(course: Course, row: Item, receiver: str) -> dict[str, Any] | None:
    """How it was written for the receiver before the item was changed."""
    old = Wording.objects.filter(course=course, item=row, receiver=receiver).exclude(digest=row.digest).first()
    return old.body if old else None


def _marks(offer: Offer) -> dict[str, Any]:
    """How the item would be marked then, with the responses that would earn something else."""
    marks = offer.marks
    responses = [{"response": entry.label, "now": entry.a, "then": entry.b} for entry in marks.differing] if marks else []
    return {"repair": offer.is_repair, "words": marks.words if marks else "", "responses": responses}


def _limits(line: Line) -> dict[str, Any]:
    """How many characters a stem and a choice may have there, None for any number."""
    limits = line.receiver.sheet.limits
    return {name: limit.most if limit else None for name, limit in (("stem", limits.stem), ("choice", limits.choice))}
