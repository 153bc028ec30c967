"""Repairs that save something of an item for a receiver, before it is handed on.

Each is found by what the forecast says, and made as a change of one item. For a hand-off it is kept as this receiver's wording, and
the pool's item stays; in the pool it is a change as any other.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import partial

from rogatum.core.errors import NoSuchType
from rogatum.core.fidelity import Marks
from rogatum.core.fidelity.items import Facet
from rogatum.core.items import Item, ItemType, parts
from rogatum.core.items.coarser import name_cut_to
from rogatum.core.items.parts import TRAITS
from rogatum.core.receivers.by_receiver import outcomes_as_tags, outcomes_in_title, rounded
from rogatum.core.receivers.outlook import ForecastItem
from rogatum.core.receivers.sheet import Sheet
from rogatum.core.receivers.survey import Survey
from rogatum.core.receivers.turning import WAYS, Turn, turn

SHORTEN, TURN, FORMULAS, PICTURES = "shorten", "turn", "formulas-to-pictures", "smaller-pictures"
OUTCOMES_TO_TAGS, OUTCOMES_TO_TITLE, CUT_TITLE, WHOLE_POINTS = "outcomes-to-tags", "outcomes-to-title", "cut-title", "whole-points"


@dataclass(frozen=True)
class Offer:
    """Something that makes an item fit: its name, what it does in words, and the facets that it is for.

    `by_hand` says that a person writes what it does, as with a stem that is too long. `marks` is how the item marks afterwards,
    held against the item as it was before any repair; it is a repair only where that is alike.
    """

    name: str
    label: str
    facets: tuple[Facet, ...]
    by_hand: bool = False
    marks: Marks | None = None

    @property
    def is_repair(self) -> bool:
        return self.marks is None or self.marks.alike


@dataclass(frozen=True)
class Subject:
    """An item as it is written for a receiver, with what was forecast of it.

    `taken` are the types that receiver and format take as they are; `turned` makes the item another type.
    """

    item: Item
    told: ForecastItem
    sheet: Sheet
    taken: frozenset[ItemType]
    turned: Callable[[ItemType], Turn]


def offers_for(item: Item, told: ForecastItem, sheet: Sheet, taken: Iterable[ItemType]) -> list[Offer]:
    """What makes an item fit: repairs, and changes of type that are none since it would be marked otherwise."""
    return _offers(Subject(item, told, sheet, frozenset(taken), partial(turn, item)))


def offers_at(survey: Survey, place: int, told: ForecastItem, sheet: Sheet, taken: Iterable[ItemType]) -> list[Offer]:
    """The same of an item of a survey, as it is written for the receiver, held against what it was before any repair."""
    return _offers(Subject(survey.bank.items[place], told, sheet, frozenset(taken), partial(survey.turn, place)))


def _offers(subject: Subject) -> list[Offer]:
    return [offer for find in _FINDERS for offer in find(subject)]


def _shorten(subject: Subject) -> Iterator[Offer]:
    told = subject.told
    if told.refused and any(note.excess is None for note in told.notes):
        return
    texts = {note.excess.what for note in told.notes if note.excess}
    if texts & {"stem", "choice"}:
        yield Offer(SHORTEN, "Write it shorter", ("stem", "choices"), by_hand=True)
    if texts & {"picture"}:
        yield Offer(PICTURES, "Make its pictures smaller", ("media",))


def _turned(subject: Subject) -> Iterator[Offer]:
    """Another type, where this one is refused or turned into less than it could be: what marks alike, else all that there is."""
    item, habit = subject.item, subject.sheet.habit_of(subject.item.type)
    if item.type in subject.taken or not (subject.told.refused or habit != "takes"):
        return
    found = [offer for wanted in WAYS.get(item.type, ()) if wanted in subject.taken for offer in _as_another(subject, wanted)]
    alike = [offer for offer in found if offer.is_repair]
    yield from alike[:1] or found


def _as_another(subject: Subject, wanted: ItemType) -> Iterator[Offer]:
    try:
        turned = subject.turned(wanted)
    except NoSuchType:
        return
    made = turned.item
    if wanted != "essay" and not (parts.has_key(made) or parts.options(made)):
        return  # nothing is left to answer with
    label = TRAITS[wanted].label
    words = f"Turn it into {'an' if label[0] in 'aeiou' else 'a'} {label}"
    yield Offer(f"{TURN}:{wanted}", words, ("type", "key", "marking"), marks=turned.marks)


def _formulas(subject: Subject) -> Iterator[Offer]:
    shows = subject.sheet.content.pictures == "takes"
    if subject.told.facets.get("math") in ("lost", "changed") and not subject.told.refused and shows:
        yield Offer(FORMULAS, "Make pictures of its formulas", ("math",))


def _labels(subject: Subject) -> Iterator[Offer]:
    item, told, sheet = subject.item, subject.told, subject.sheet
    if told.refused or told.facets.get("metadata") not in ("lost", "changed"):
        return
    if item.metadata.get("outcome") and sheet.labels.outcomes == "drops":
        if sheet.labels.tags == "takes":
            yield Offer(OUTCOMES_TO_TAGS, "Put its outcomes into tags", ("metadata",))
        elif sheet.labels.titles == "takes":
            yield Offer(OUTCOMES_TO_TITLE, "Put its outcomes into the title", ("metadata",))
    if item.title and name_cut_to(item.title, sheet.names.length, sheet.names.without) != item.title:
        yield Offer(CUT_TITLE, "Cut its title by rule", ("metadata",))


def _points(subject: Subject) -> Iterator[Offer]:
    told, points = subject.told, subject.sheet.points
    rounds = points.step is not None and not points.scale
    if told.refused or not rounds or told.facets.get("points") != "changed" or subject.item.points is None:
        return
    if _with_whole_points(subject.item, subject.sheet).points != subject.item.points:
        yield Offer(WHOLE_POINTS, "Round its points as they are rounded there", ("points",))


_FINDERS: tuple[Callable[[Subject], Iterator[Offer]], ...] = (_shorten, _turned, _formulas, _labels, _points)


def repaired(item: Item, name: str, sheet: Sheet) -> Item:
    """The item after a repair that needs nothing from outside. Raises KeyError for one that does, or that is not known."""
    kind, _, wanted = name.partition(":")
    if kind == TURN:
        return turn(item, wanted).item  # type: ignore[arg-type]
    return _CHANGES[kind](item, sheet)


def _with_tags(item: Item, _sheet: Sheet) -> Item:
    return outcomes_as_tags(item)


def _with_title(item: Item, sheet: Sheet) -> Item:
    return _with_cut_title(outcomes_in_title(item), sheet)


def _with_cut_title(item: Item, sheet: Sheet) -> Item:
    return item.model_copy(update={"title": name_cut_to(item.title, sheet.names.length, sheet.names.without)})


def _with_whole_points(item: Item, sheet: Sheet) -> Item:
    step = sheet.points.step or 1
    points = None if item.points is None else max(step, rounded(item.points, step))
    return item.model_copy(update={"points": points})


_CHANGES: dict[str, Callable[[Item, Sheet], Item]] = {
    OUTCOMES_TO_TAGS: _with_tags,
    OUTCOMES_TO_TITLE: _with_title,
    CUT_TITLE: _with_cut_title,
    WHOLE_POINTS: _with_whole_points,
}
