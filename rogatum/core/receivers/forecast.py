"""The forecast: what each item will be over there, facet by facet, before anything is written.

A file goes through two hands: the format, which has no place for some of what items hold, and the receiver, which makes its own of
the rest. Both are told by features: what holds the same features fares alike, so that thousands of items cost little. Only what
cannot be told so (another type, a text that is cut) is made and judged by the judges of the ledger.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from rogatum.core.cycles import uncollected
from rogatum.core.exporting import room_of
from rogatum.core.fidelity import Verdict
from rogatum.core.fidelity.items import Facet
from rogatum.core.fidelity.ledger import FACETS
from rogatum.core.formats import format_named
from rogatum.core.items import Bank, ItemType
from rogatum.core.items.parts import TRAITS
from rogatum.core.quizzes.worth import with_order_of_quizzes, worth_on_items
from rogatum.core.receivers.by_format import Reaction, left_out, reaction_of
from rogatum.core.receivers.by_receiver import HABITS, excesses_of, points_there, told_path
from rogatum.core.receivers.features import ORDERED, Features, features_of
from rogatum.core.receivers.outlook import Forecast, ForecastItem, ForecastNote
from rogatum.core.receivers.quizzes import Arrival, forecast_quizzes
from rogatum.core.receivers.sheet import Sheet
from rogatum.core.receivers.survey import Survey
from rogatum.core.receivers.under_way import Passed, State, worsen

_ALL_LOST: dict[Facet, Verdict] = dict.fromkeys(FACETS, "lost")


def forecast(bank: Bank, sheet: Sheet, format_name: str, survey: Survey | None = None, file_name: str = "") -> Forecast:
    """What a receiver will make of a bank that comes in this format, under this name without its suffix.

    Raises UnknownFormat. A format that the sheet does not name is forecast all the same.
    """
    survey = survey or Survey(bank)
    walk = _Walk(survey, sheet, format_name, file_name or bank.title)
    with uncollected():
        items = [walk.item(place) for place in range(len(bank.items))]
    arriving = {item.id: walk.points[item.id] for item in items if not item.refused}
    quizzes = forecast_quizzes(walk.own, sheet, walk.entry, Arrival(walk.written, arriving))
    most = sheet.limits.items_per_file
    files = max(1, -(-len(arriving) // most)) if most else 1
    return Forecast(sheet.name, sheet.title, format_name, items, quizzes, files)


class _Walk:
    """Takes items through a format and a receiver; what holds the same features fares alike and is worked out once."""

    def __init__(self, survey: Survey, sheet: Sheet, format_name: str, file_name: str) -> None:
        self.survey, self.sheet, self.format, self.file_name = survey, sheet, format_name, file_name
        self.entry = format_named(format_name)
        self.room = room_of(self.entry, survey.bank)
        self.written: set[str] = set()
        self.meant = self._with_worth(survey.bank)
        self._ordered = self._ordered_by_quizzes()
        # What was meant before any item was written otherwise: all that arrives is held against this.
        self.own = self._with_worth(survey.bank.model_copy(update={"items": survey.meant()})) if survey.before else self.meant
        self.points: dict[str, float | None] = {}
        names, limits = sheet.names, sheet.limits
        self._titles_matter = bool(names.length or names.without or sheet.labels.outcomes == "titles")
        self._most = tuple(limit.most if limit else 10**9 for limit in (limits.stem, limits.choice, limits.choices))
        self._alike: dict[tuple[object, ...], _Fate] = {}
        self._plain: dict[tuple[ItemType, frozenset[str]], Passed] = {}

    def _with_worth(self, bank: Bank) -> Bank:
        return worth_on_items(bank) if self.room.points_on_items else bank

    def _ordered_by_quizzes(self) -> frozenset[int]:
        """The places of items whose order is written with them, since the format has no place for it in a quiz."""
        carries, bank = self.entry.carries, self.survey.bank
        if not carries.order_by_items or not bank.quizzes:
            return frozenset()
        made = zip(bank.items, with_order_of_quizzes(bank).items, strict=True)
        return frozenset(place for place, (item, ordered) in enumerate(made) if item is not ordered)

    def item(self, place: int) -> ForecastItem:
        item, name = self.survey.bank.items[place], self.survey.names[place]
        key = self._likeness(place)
        known = self._alike.get(key)
        if known is None:
            known, alike = self._worked_out(place)
            if alike:
                self._alike[key] = known
        if not known.refused or known.written:
            self.written.add(item.id)
        self.points[item.id] = known.points
        return ForecastItem(item.id, name, item.type, known.facets, known.notes, known.refused, known.passage_gone)

    def _likeness(self, place: int) -> tuple[object, ...]:
        """What items have to share to fare alike, where nothing is made of them."""
        if place in self.survey.before:
            return (place,)
        features, own = self.survey.features[place], self.meant.items[place].points
        item = self.survey.bank.items[place]
        title = (item.title, *item.metadata.get("outcome", [])) if self._titles_matter else ()
        lengths = (features.stem > self._most[0], features.choice > self._most[1], features.choices > self._most[2])
        return (
            features.type,
            features.held,
            place in self._ordered,
            own,
            self.survey.paths[place],
            title,
            lengths,
            features.pictures,
        )

    def _worked_out(self, place: int) -> tuple[_Fate, bool]:
        """What becomes of an item, and whether of each like it."""
        item, features = self.survey.bank.items[place], self.survey.features[place]
        if place in self._ordered:
            features = replace(features, held=features.held | {ORDERED})
        passed = self._by_format(features)
        if passed.refused:
            return _Fate(_ALL_LOST, passed.notes, refused=True, written=False), True
        state = State(self.sheet, item, passed, features)
        state.written_otherwise(self.survey.before.get(place), self.survey.rewritten(place))
        refusals = list(self._types(state)) or list(self._limits(state))
        if refusals:
            return _Fate(_ALL_LOST, tuple(refusals), refused=True), not any(note.excess for note in refusals)
        self._habits(state)
        state.settle(self.survey.verdict)
        if place in self.survey.before:
            state.settle_version(self.survey.verdict)
        there = self._points(state, self.own.items[place].points, self.meant.items[place].points)
        self._grouping(state, self.survey.paths[place])
        gone = "passage" in state.features.held - state.held and self.sheet.grouping.passages != "into the stem"
        return _Fate(state.closed(), tuple(state.notes), points=there, passage_gone=gone), not state.made_of

    def _by_format(self, features: Features) -> Passed:
        key = (features.type, features.held)
        if key not in self._plain:
            self._plain[key] = self._passed(features)
        return self._plain[key]

    def _passed(self, features: Features) -> Passed:
        """What the format makes of these features."""
        if why := left_out(self.format, features.type):
            return Passed({}, (ForecastNote("type", "lost", why, "format"),), features.held, refused=True)
        facets: dict[Facet, Verdict] = {}
        notes, gone = [], set()
        for feature in sorted(features.held):
            reaction = reaction_of(self.format, feature, features.type)
            if reaction is None and feature == "pool" and not self.room.pools:
                reaction = Reaction({"grouping": "lost"}, f"{self.entry.label} has no place for pools beside quizzes.")
            if reaction is None:
                continue
            if reaction.refused:
                note = ForecastNote("type", "lost", reaction.message, "format")
                return Passed({}, (note,), features.held, refused=True)
            for facet, verdict in reaction.verdicts.items():
                worsen(facets, facet, verdict)
                notes.append(ForecastNote(facet, verdict, reaction.message, "format"))
            if reaction.gone:
                gone.add(feature)
        return Passed(facets, tuple(notes), _moved(features.held) - gone if "best-feedback" in gone else features.held - gone)

    def _types(self, state: State) -> Iterator[ForecastNote]:
        habit, wanted = self.sheet.habit_of(state.item.type), self.sheet.turns(state.item.type)
        label = TRAITS.of(state.item).label
        if habit == "refuses":
            yield ForecastNote("type", "lost", f"{self.sheet.title} does not take {label} items.", "receiver")
        if wanted is None:
            return
        turned = self.survey.turned(state.item, wanted)
        lacking = state.features.held - state.held
        state.become(turned.item, turned.features, turned.judged, lacking)

    def _limits(self, state: State) -> Iterator[ForecastNote]:
        """What is beyond a limit is refused, or made to fit."""
        for excess, beyond in excesses_of(self.sheet, state.features, state.held):
            if beyond == "refuses":
                yield ForecastNote("type", "lost", f"{excess.words[0].upper()}{excess.words[1:]}.", "receiver", excess=excess)
                continue
            fitted = excess.fitted(self.sheet, state.item, self.survey.around)
            judged = tuple(self.survey.judged(state.item, fitted))
            state.become(fitted, features_of(fitted, self.survey.around), judged, state.features.held - state.held, excess)

    def _habits(self, state: State) -> None:
        for habit in HABITS:
            effect = habit(self.sheet, state.item, state.held, self.survey.around)
            if effect is None:
                continue
            if effect.make is not None:
                made = self.survey.made(state.stripped(), effect.make, effect.touches)
                state.become(made.item, made.features, made.judged, state.features.held - state.held)
            state.take(effect)

    def _points(self, state: State, own: float | None, written: float | None) -> float | None:
        """What it is worth there, of what it is worth on its own and as it is written."""
        arrived = written if "points" in state.held or written is None else None
        if written is None and state.facets.get("points") == "added":
            arrived = 1.0
        there = points_there(self.sheet, arrived)
        if there == arrived and own == written:
            return there
        before, after = ("none" if points is None else f"{points:g}" for points in (own, there))
        verdict: Verdict = "same" if there == own else "added" if own is None else "lost" if there is None else "changed"
        state.facets["points"] = verdict
        state.notes = [note for note in state.notes if note.facet != "points"]
        if verdict != "same":
            message = f"It is worth {after} there." if there is not None else f"{self.sheet.title} takes no points."
            state.notes.append(ForecastNote("points", verdict, message, "receiver", seen=f"{before} → {after}"))
        return there

    def _grouping(self, state: State, path: tuple[str, ...]) -> None:
        arrived = path if "pool" in state.held else ()
        there = told_path(self.sheet, arrived, self.file_name)
        if state.facets.get("grouping") in ("lost", "changed") or there == arrived:
            return
        state.note("grouping", _of_paths(path, there), f"It lies in {_shown_path(there)}.", "receiver", seen=_shown_path(there))


def _of_paths(path: tuple[str, ...], there: tuple[str, ...]) -> Verdict:
    if path == there:
        return "same"
    if " / ".join(path) == " / ".join(there):
        return "recast"
    return "added" if not path else "lost" if not there else "changed"


def _shown_path(path: tuple[str, ...]) -> str:
    return " / ".join(path) if path else "no pool"


def _moved(held: frozenset[str]) -> frozenset[str]:
    """What is held where the feedback of the best answer became that of a right response."""
    stays = held if "other-feedback" in held else frozenset(name for name in held if name.partition("/")[0] != "answer")
    return stays | {"correct" + name.removeprefix("answer") for name in held if name.partition("/")[0] == "answer"}


@dataclass(frozen=True, slots=True)
class _Fate:
    """What becomes of an item: its verdicts and why, what it is worth there, whether it is refused and stands in the file."""

    facets: Mapping[Facet, Verdict]
    notes: tuple[ForecastNote, ...]
    points: float | None = None
    refused: bool = False
    written: bool = True
    passage_gone: bool = False


def types_taken(sheet: Sheet, format_name: str) -> frozenset[ItemType]:
    """The types that come through a format and are taken there as they are."""
    return frozenset(name for name in format_named(format_name).carries.types if sheet.habit_of(name) == "takes")
