"""The facets of a quiz: each setting is one of its own. Items are told by the partners that the ledger found for them."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import groupby

from pydantic import BaseModel, Field

from rogatum.core.fidelity.judging import SAME, Judgement, Note, Verdict, compared, worst_of
from rogatum.core.fidelity.matching import Matched
from rogatum.core.fidelity.setting_words import SETTING_WORDS
from rogatum.core.items import Bank
from rogatum.core.items.content import comparable
from rogatum.core.items.parts import is_question
from rogatum.core.quizzes.model import SETTINGS, Part, Quiz
from rogatum.core.quizzes.worth import Stock, stated_points


@dataclass(frozen=True)
class Room:
    """What the format that was written has a place for; what it has none for is lost, whatever stands there.

    `settings` are the settings that it can say, with the values that it has words for (None for any). `points_on_items` says
    that points stand with items alone: it shows there what an item is worth in the quiz that first holds it. `points_by_place` says
    that an item may be worth something else in each place where it stands. `printed` are the facets that people read there all the
    same, and `drawn` says what was drawn for them.
    """

    label: str
    quizzes: bool = True
    draws: bool = True
    parts: bool = True
    pools: bool = True
    instructions: bool = True
    pages: bool = True
    settings: Mapping[str, frozenset[object] | None] = field(default_factory=lambda: dict.fromkeys(SETTINGS))
    points_on_items: bool = False
    points_by_place: bool = True
    printed: Collection[str] = ()
    drawn: str = ""

    def holds(self, name: str, value: object) -> bool:
        if name not in self.settings:
            return False
        allowed = self.settings[name]
        return allowed is None or value in allowed


ALL_OF_IT = Room("")


class QuizNote(Note):
    """Why a facet of a quiz is not `same`."""


class LedgerQuiz(BaseModel):
    a: str
    b: str
    title: str
    facets: dict[str, Verdict]
    notes: list[QuizNote] = Field(default_factory=list)

    @property
    def worst(self) -> Verdict:
        return worst_of(self.facets.values())


class _Holding:
    """What a bank says of the items of its quizzes; `known` gives each item the name under which both sides know it."""

    def __init__(self, bank: Bank, known: Mapping[str, str]) -> None:
        self.bank, self.known = bank, known
        self.items = {item.id: item for item in bank.items}
        self.stock = Stock(bank)
        self.passages = {stimulus.id: comparable(stimulus.content) for stimulus in bank.stimuli}

    def names(self, part: Part) -> list[str]:
        return [self.known[key] for key in self.stock.given_by(part) if key in self.known]

    @cached_property
    def places(self) -> Counter[str]:
        """In how many places items stand, in all quizzes."""
        return Counter(name for quiz in self.bank.quizzes for part in quiz.parts for name in self.names(part))

    def passage(self, key: str) -> str:
        item = self.items.get(key)
        return self.passages.get(item.stimulus or "", "") if item else ""


@dataclass(frozen=True)
class _Side:
    """A quiz and what its bank holds."""

    quiz: Quiz
    held: _Holding

    def names(self, part: Part) -> list[str]:
        return self.held.names(part)

    def worth(self) -> dict[str, list[float | None]]:
        """What each item is worth, in each part that can give it."""
        found: dict[str, list[float | None]] = defaultdict(list)
        for part in self.quiz.parts:
            for key in self.held.stock.given_by(part):
                item = self.held.items.get(key)
                if item is not None and is_question(item):
                    found[self.held.known[key]].append(stated_points(part, key, item.points))
        return found

    def worth_is(self, shown: Mapping[str, float | None]) -> bool:
        """Whether all that is worth something is worth what is shown, wherever it stands."""
        return all(said is None or shown.get(name) == said for name, each in self.worth().items() for said in each)


def _title(a: _Side, b: _Side, _room: Room) -> Judgement:
    return compared(a.quiz.title, b.quiz.title, "The title", "title")


def _shape(side: _Side) -> list[tuple[str, list[str]]]:
    return sorted((part.title, sorted(side.names(part))) for part in side.quiz.parts)


def _parts(a: _Side, b: _Side, room: Room) -> Judgement:
    mine, its = _shape(a), _shape(b)
    if mine == its:
        return SAME
    gone = {name for _, names in mine for name in names} - {name for _, names in its for name in names}
    if gone:
        return Judgement("lost", "parts-lost", f"{len(gone)} of its items did not come over.", _told(mine), _told(its))
    if not room.parts:
        return Judgement("lost", "no-parts", f"{room.label} has one part without a title.", _told(mine), _told(its))
    return compared(mine, its, "What its parts hold", "parts", _told)


def _told(shape: object) -> str:
    assert isinstance(shape, list)
    return "; ".join(f"{title or 'a part'}: {len(names)} items" for title, names in shape)[:300]


def _order(a: _Side, b: _Side, room: Room) -> Judgement:
    # What is drawn comes in any order.
    mine, its = ([name for part in side.quiz.parts if part.draw is None for name in side.names(part)] for side in (a, b))
    both = set(mine) & set(its)
    if not room.draws:
        both -= {name for part in a.quiz.parts if part.draw is not None for name in a.names(part)}
    return compared([n for n in mine if n in both], [n for n in its if n in both], "The order", "order", lambda _v: "")


def _drawn(side: _Side) -> list[tuple[int, list[str]]]:
    return [(part.draw.pick, sorted(side.names(part))) for part in side.quiz.parts if part.draw is not None]


def _draws(a: _Side, b: _Side, room: Room) -> Judgement:
    mine, its = _drawn(a), _drawn(b)
    if mine and not room.draws:
        return Judgement("lost", "no-draws", f"{room.label} has no draws: all items of the pool stand there.", _picks(mine), "")
    return compared(mine, its, "The draws", "draws", _picks)


def _picks(drawn: object) -> str:
    assert isinstance(drawn, list)
    return "; ".join(f"{pick} of {len(names)}" for pick, names in drawn)[:300]


def _points(a: _Side, b: _Side, room: Room) -> Judgement:
    mine, its = a.worth(), b.worth()
    differ = [name for name in mine if name in its and not _worth_alike(mine[name], its[name])]
    if not differ:
        return SAME
    before, after = ({points for name in differ for points in side[name]} for side in (mine, its))
    shown = [", ".join(sorted(map(_number, side)))[:120] for side in (before, after)]
    if before == {None}:
        return Judgement("added", "quiz-points-added", "Points that nobody had said were added.", *shown)
    if after == {None}:
        return Judgement("lost", "quiz-points-lost", f"What {len(differ)} items are worth did not come over.", *shown)
    if not room.points_by_place and all(a.held.places[name] > 1 for name in differ):
        return Judgement("lost", "no-points-by-place", f"In {room.label} an item is worth the same wherever it stands.", *shown)
    return Judgement("changed", "quiz-points-changed", f"{len(differ)} items are worth something else.", *shown)


def _worth_alike(mine: list[float | None], its: list[float | None]) -> bool:
    """Whether an item is worth the same, in whatever order its places come; that it has a place more is told by the parts."""
    shorter, longer = sorted((mine, its), key=len)
    return not Counter(shorter) - Counter(longer)


def _number(value: float | None) -> str:
    return "unsaid" if value is None else f"{value:g}"


def _grouped(side: _Side) -> list[tuple[str, tuple[str, ...]]]:
    """The passages with the items that stand together below each."""
    found = []
    for part in side.quiz.parts:
        # What is drawn is drawn one by one, each with its passage.
        given = side.held.stock.given_by(part)
        runs = groupby(given, key=lambda key: (side.held.passage(key), key if part.draw else ""))
        for (passage, _), run in runs:
            if passage:
                found.append((passage, tuple(sorted(side.held.known.get(key, key) for key in run))))
    return sorted(found)


def _passages(a: _Side, b: _Side, _room: Room) -> Judgement:
    return compared(_grouped(a), _grouped(b), "A passage with its items", "passages", lambda v: str(len(v)))  # type: ignore[arg-type]


def _instructions(a: _Side, b: _Side, room: Room) -> Judgement:
    mine, its = (_said(side, lambda part: comparable(part.instructions)) for side in (a, b))
    if mine and not room.instructions:
        return Judgement("lost", "no-instructions", f"{room.label} has no place for instructions between parts.", mine[0][:300], "")
    return compared(mine, its, "What is said before a part", "instructions", lambda said: " / ".join(said)[:300])  # type: ignore[arg-type]


def _pages(a: _Side, b: _Side, room: Room) -> Judgement:
    mine, its = (_said(side, lambda part: "a" if part.page_break else "") for side in (a, b))
    if mine and not its:
        return Judgement("lost", "no-pages", f"{room.label or 'The other'} has no page breaks.", str(len(mine)), "")
    return compared(mine, its, "Where a page begins", "pages", lambda said: str(len(said)))  # type: ignore[arg-type]


def _said(side: _Side, of: Callable[[Part], str]) -> list[str]:
    return [said for part in side.quiz.parts if (said := of(part))]


def _setting(name: str) -> Callable[[_Side, _Side, Room], Judgement]:
    words = SETTING_WORDS[name]

    def judge(a: _Side, b: _Side, room: Room) -> Judgement:
        mine, its = getattr(a.quiz.settings, name), getattr(b.quiz.settings, name)
        if mine is not None and mine != its and not room.holds(name, mine):
            return _no_place(name, mine, room)
        if mine == its or (mine is None and its is None):
            return SAME
        if mine is None:
            return Judgement("added", f"{name}-added", f"{words} is said now.", "", _value(its))
        if its is None:
            return Judgement("lost", f"{name}-lost", f"{words} did not come over.", _value(mine), "")
        return Judgement("changed", f"{name}-changed", f"{words} differs.", _value(mine), _value(its))

    return judge


def _no_place(name: str, value: object, room: Room) -> Judgement:
    message = f"{room.label} has no place for {SETTING_WORDS[name].lower()}"
    if name in room.settings:
        message += f" of this kind ({_value(value)})"
    return Judgement("lost", "not-carried", f"{message}.", _value(value), "")


def _value(value: object) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)[:200]


QUIZ_JUDGES: dict[str, Callable[[_Side, _Side, Room], Judgement]] = {
    "title": _title,
    "parts": _parts,
    "order": _order,
    "draws": _draws,
    "points": _points,
    "passages": _passages,
    "instructions": _instructions,
    "pages": _pages,
    **{name: _setting(name) for name in SETTINGS},
}
QUIZ_FACETS: tuple[str, ...] = tuple(QUIZ_JUDGES)
QUIZ_FACET_WORDS: dict[str, str] = {
    "title": "title",
    "parts": "parts",
    "order": "order",
    "draws": "draws",
    "points": "points",
    "passages": "passages",
    "instructions": "instructions",
    "pages": "page breaks",
    **{name: words[0].lower() + words[1:] for name, words in SETTING_WORDS.items()},
}


def compare_quizzes(a: Bank, b: Bank, matched: Matched, room: Room = ALL_OF_IT) -> list[LedgerQuiz]:
    """The quizzes of two banks, facet by facet. `matched` says which item of `b` is which of `a`."""
    partners = {item_a.id: item_b.id for item_a, item_b in matched.pairs}
    known_a = {item.id: partners.get(item.id, f"\x00{item.id}") for item in a.items}
    known_b = {item.id: matched.doubles.get(item.id, item.id) for item in b.items}
    held_a, held_b = _Holding(a, known_a), _Holding(b, known_b)
    if a.quizzes and not room.quizzes:
        shown = {partners[item_a.id]: item_b.points for item_a, item_b in matched.pairs}
        return [_without_place(_Side(quiz, held_a), room, shown) for quiz in a.quizzes]
    found, left = [], list(b.quizzes)
    for quiz in a.quizzes:
        other = _partner(quiz, left)
        if other is None:
            found.append(_alone(_Side(quiz, held_a), "lost", "Nothing in the other matches it."))
            continue
        left.remove(other)
        found.append(_entry(_Side(quiz, held_a), _Side(other, held_b), room))
    message = "A test was made of the pools." if not a.quizzes else "Nothing in the first matches it."
    return found + [_alone(_Side(quiz, held_b), "added", message) for quiz in left]


def _partner(quiz: Quiz, others: list[Quiz]) -> Quiz | None:
    """The other side's form of a quiz: by identifier and title, by either, else the next that is left."""

    def likeness(other: Quiz) -> tuple[bool, bool]:
        return other.title == quiz.title and bool(quiz.title), other.id == quiz.id

    return max(others, key=likeness, default=None)


def _entry(a: _Side, b: _Side, room: Room) -> LedgerQuiz:
    entry = LedgerQuiz(a=a.quiz.id, b=b.quiz.id, title=a.quiz.title or a.quiz.id, facets={})
    for facet, judge in QUIZ_JUDGES.items():
        _note(entry, facet, judge(a, b, room))
    return entry


def _note(entry: LedgerQuiz, facet: str, judged: Judgement) -> None:
    entry.facets[facet] = judged.verdict
    if judged.verdict != "same":
        entry.notes.append(QuizNote(facet=facet, code=judged.code, message=judged.message, a=judged.a, b=judged.b))


def _holds(side: _Side) -> dict[str, bool]:
    """Which facets of a quiz hold anything."""
    said = dict(side.quiz.settings.said())
    return {
        "title": bool(side.quiz.title),
        "parts": bool(side.quiz.parts),
        "order": bool(side.quiz.parts),
        "draws": bool(_drawn(side)),
        "points": any(points is not None for each in side.worth().values() for points in each),
        "passages": bool(_grouped(side)),
        "instructions": any(part.instructions for part in side.quiz.parts),
        "pages": any(part.page_break for part in side.quiz.parts),
    } | {name: name in said for name in SETTINGS}


def _without_place(side: _Side, room: Room, shown: Mapping[str, float | None]) -> LedgerQuiz:
    """A quiz in a format that has none: its items stand alone. `shown` gives the points that stand with them there."""
    entry = LedgerQuiz(a=side.quiz.id, b="", title=side.quiz.title or side.quiz.id, facets={})
    lost = Judgement("lost", "no-quizzes", f"{room.label} has no place for a quiz: its items stand alone.")
    printed = Judgement("recast", "printed", "It is printed for people to read: a program that reads the file makes no quiz of it.")
    points = Judgement("recast", "points-on-items", "What items are worth in the quiz stands with the items.")
    elsewhere = dict.fromkeys(room.printed, printed)
    if room.points_on_items and side.worth_is(shown):
        elsewhere["points"] = points
    if room.drawn:
        elsewhere["draws"] = Judgement("changed", "drawn", room.drawn)
    noted: dict[str, str] = {}
    for facet, held in _holds(side).items():
        judged = elsewhere.get(facet, lost) if held else SAME
        entry.facets[facet] = judged.verdict
        if held:
            noted.setdefault(judged.code, facet)
    said = {judged.code: judged.message for judged in (lost, *elsewhere.values())}
    entry.notes = [QuizNote(facet=facet, code=code, message=said[code]) for code, facet in noted.items()]
    return entry


def _alone(side: _Side, verdict: Verdict, message: str) -> LedgerQuiz:
    """A quiz that one side has alone."""
    facets: dict[str, Verdict] = {facet: verdict if held else "same" for facet, held in _holds(side).items()}
    if not any(_holds(side).values()):
        facets["title"] = verdict
    names = (side.quiz.id, "") if verdict == "lost" else ("", side.quiz.id)
    note = QuizNote(facet="title", code="one-side-alone", message=message)
    return LedgerQuiz(a=names[0], b=names[1], title=side.quiz.title or side.quiz.id, facets=facets, notes=[note])


__all__ = ["ALL_OF_IT", "QUIZ_FACETS", "QUIZ_FACET_WORDS", "LedgerQuiz", "QuizNote", "Room", "compare_quizzes"]
