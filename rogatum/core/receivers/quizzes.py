"""What becomes of quizzes: the quiz as it will stand there, by the format's room and the sheet, judged as the ledger does."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from rogatum.core.exporting import room_of
from rogatum.core.fidelity.matching import Matched
from rogatum.core.fidelity.quizzes import LedgerQuiz, QuizNote, Room, compare_quizzes
from rogatum.core.fidelity.setting_words import SETTING_WORDS
from rogatum.core.formats import Format
from rogatum.core.items import Bank, Item
from rogatum.core.items.retyping import as_type
from rogatum.core.quizzes.draws import draw as drawn
from rogatum.core.quizzes.model import Draw, Part, Quiz, Settings
from rogatum.core.quizzes.worth import Stock, stated_points, with_points
from rogatum.core.receivers.sheet import Sheet


@dataclass(frozen=True)
class Arrival:
    """What of a bank comes through: which items are in the file, and which of them are taken, with their points there."""

    written: Collection[str]
    taken: Mapping[str, float | None]


def forecast_quizzes(bank: Bank, sheet: Sheet, entry: Format, arrival: Arrival) -> list[LedgerQuiz]:
    """The quizzes of a bank as they will be there."""
    if not bank.quizzes:
        return []
    room = room_of(entry, bank)
    passages = entry.carries.stimuli and sheet.grouping.passages == "takes"
    gone = {} if passages else {"stimulus": None}
    there_now = (item for item in bank.items if item.id in arrival.taken)
    items = [_of_its_type(item, sheet).model_copy(update={"points": arrival.taken[item.id], **gone}) for item in there_now]
    there = bank.model_copy(update={"items": items})
    there.quizzes = quizzes_there(bank, sheet, entry, arrival)
    before = {item.id: item for item in bank.items}
    left = [item for item in bank.items if item.id not in arrival.taken]
    matched = Matched([(before[item.id], item) for item in items], left, [], {})
    found = compare_quizzes(bank, there, matched, room)
    return [_with_nearest(told, quiz, bank, sheet) for told, quiz in zip(found, bank.quizzes, strict=True)]


def _of_its_type(item: Item, sheet: Sheet) -> Item:
    """What becomes a text that asks nothing has no place among points."""
    wanted = sheet.turns(item.type)
    return item if wanted is None else as_type(item, wanted).item


def quizzes_there(bank: Bank, sheet: Sheet, entry: Format, arrival: Arrival) -> list[Quiz]:
    room = room_of(entry, bank)
    if not room.quizzes or sheet.quiz.quizzes == "drops":
        return []
    stock, written = Stock(bank), set(arrival.written)
    carried = [_carried(quiz, room, stock, written, entry.carries.always_says) for quiz in bank.quizzes]
    if not room.points_by_place:
        carried = _worth_once(carried, stock, {item.id: item.points for item in bank.items})
    held = [quiz for quiz in carried if any(written.intersection(stock.given_by(part)) for part in quiz.parts)]
    return [_there(quiz, sheet, stock, arrival.taken.keys()) for quiz in held]


def _carried(quiz: Quiz, room: Room, stock: Stock, written: Collection[str], always: Mapping[str, object]) -> Quiz:
    """The quiz as a format carries it."""
    parts = quiz.parts if room.draws else [_all_of(part, stock) for part in quiz.parts]
    if not room.instructions:
        parts = [part.model_copy(update={"instructions": ""}) for part in parts]
    if not room.pages:
        parts = [part.model_copy(update={"page_break": False}) for part in parts]
    parts = [_arrived(part, written) for part in parts]
    said = {**always, **{name: value for name, value in quiz.settings.said() if room.holds(name, value)}}
    return quiz.model_copy(update={"parts": parts if room.parts else _as_one(parts), "settings": Settings.model_validate(said)})


def _worth_once(quizzes: list[Quiz], stock: Stock, own: Mapping[str, float | None]) -> list[Quiz]:
    """Where an item can be worth one thing alone, it is that in the place where it stands first."""
    seen: set[str] = set()

    def told(part: Part) -> Part:
        given = stock.given_by(part)
        worth = {key: own.get(key) if key in seen else stated_points(part, key, own.get(key)) for key in given}
        seen.update(given)
        return with_points(part, worth)

    return [quiz.model_copy(update={"parts": [told(part) for part in quiz.parts]}) for quiz in quizzes]


def _there(quiz: Quiz, sheet: Sheet, stock: Stock, kept: Collection[str]) -> Quiz:
    habits = sheet.quiz
    parts = [_drawing(part, sheet, stock, kept) for part in quiz.parts]
    if habits.instructions == "drops":
        parts = [part.model_copy(update={"instructions": ""}) for part in parts]
    if habits.page_breaks == "drops":
        parts = [part.model_copy(update={"page_break": False}) for part in parts]
    if habits.points == "drops":
        parts = [part.model_copy(update={"points_each": None, "points": {}}) for part in parts]
    parts = [_arrived(part, kept) for part in (_as_one(parts) if habits.parts == "drops" else parts)]
    said = {name: value for name, value in quiz.settings.said() if name in habits.settings}
    return quiz.model_copy(update={"parts": parts, "settings": Settings(**said)})


def _arrived(part: Part, kept: Collection[str]) -> Part:
    return part.model_copy(update={"items": [key for key in part.items if key in kept]})


def _drawing(part: Part, sheet: Sheet, stock: Stock, kept: Collection[str]) -> Part:
    """What becomes of a draw: it stays, is drawn once, or all that it is from stands there."""
    if sheet.quiz.draws == "takes":
        return _from_these(part, stock, kept)
    return _all_of(part, stock) if sheet.quiz.draws == "all items" else _fixed(part, stock, sheet.name)


def _all_of(part: Part, stock: Stock) -> Part:
    return part if part.draw is None else part.model_copy(update={"items": stock.drawn_from(part.draw), "draw": None})


def _from_these(part: Part, stock: Stock, kept: Collection[str]) -> Part:
    """A draw from the items that it was from, wherever they lie now and whatever is still said of them."""
    if part.draw is None:
        return part
    given = set(stock.drawn_from(part.draw))
    return part.model_copy(update={"draw": Draw(pool=[], pick=part.draw.pick, without=sorted(set(kept) - given))})


def _fixed(part: Part, stock: Stock, seed: str) -> Part:
    if part.draw is None:
        return part
    return part.model_copy(update={"items": drawn(stock.drawn_from(part.draw), part.draw.pick, seed), "draw": None})


def _as_one(parts: Sequence[Part]) -> list[Part]:
    """Fixed parts as one without a title; a draw stays a part of its own."""
    fixed = [part for part in parts if part.draw is None]
    draws = [part.model_copy(update={"title": ""}) for part in parts if part.draw is not None]
    items = list(dict.fromkeys(key for part in fixed for key in part.items))
    # What stands in two parts stands once, and is worth what it was in the first.
    worth = {key: part.points.get(key, part.points_each) for part in reversed(fixed) for key in part.items}
    points = {key: said for key, said in worth.items() if said is not None}
    return [*([Part(items=items, points=points)] if items else []), *draws]


def _with_nearest(entry: LedgerQuiz, quiz: Quiz, bank: Bank, sheet: Sheet) -> LedgerQuiz:
    """The entry with the nearest that the receiver can of what it cannot take."""
    notes = [_said_there(note, sheet) for note in entry.notes]
    stock = Stock(bank)
    told = [(part.draw.pick, len(stock.drawn_from(part.draw))) for part in quiz.parts if part.draw is not None]
    if told and sheet.quiz.draws != "takes" and entry.facets.get("draws") != "same":
        words = "; ".join(f"draws {pick} of {held} for each student → {_nearest(sheet, pick, held)}" for pick, held in told)
        notes = [note for note in notes if note.facet != "draws"]
        notes.append(QuizNote(facet="draws", code="nearest", message=f"{words[0].upper()}{words[1:]}."))
    return entry.model_copy(update={"notes": notes})


def _said_there(note: QuizNote, sheet: Sheet) -> QuizNote:
    """A setting that does not come along has to be set there by hand, where there is such a thing."""
    if note.facet not in SETTING_WORDS or note.code not in ("not-carried", f"{note.facet}-lost"):
        return note
    way = "set it there by hand" if note.facet in sheet.quiz.settings else f"{sheet.title} has none: say it to the students"
    return note.model_copy(update={"message": f"{note.message.rstrip('.')} → {way}."})


def _nearest(sheet: Sheet, pick: int, held: int) -> str:
    return f"all {held}" if sheet.quiz.draws == "all items" else f"a fixed {pick}, drawn by the seed “{sheet.name}”"
