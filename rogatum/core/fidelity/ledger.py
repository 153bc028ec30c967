"""The ledger: two states of the same items compared facet by facet, each verdict with a note that says what and why."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from typing import get_args

from pydantic import BaseModel, Field, computed_field, model_validator

from rogatum.core.cycles import uncollected
from rogatum.core.fidelity.items import JUDGES, Facet, Sides
from rogatum.core.fidelity.judging import Judgement, Note, Verdict, worst_of
from rogatum.core.fidelity.matching import Matched, match_items
from rogatum.core.fidelity.probes import Origin
from rogatum.core.fidelity.quizzes import ALL_OF_IT, LedgerQuiz, Room, compare_quizzes
from rogatum.core.fidelity.wholeness import Wholeness, more_whole
from rogatum.core.items import Bank, Item
from rogatum.core.items.changes import map_content
from rogatum.core.items.content import has_formula_pictures, plain_text, with_formulas_for_pictures
from rogatum.core.items.parts import content_fields

FACETS: tuple[Facet, ...] = get_args(Facet)
# What only the instructor sees: metadata with the title, and the pool. All else students see, or are marked by.
OWN_FACETS: frozenset[Facet] = frozenset({"metadata", "grouping"})
# The passage that items share is judged with their grouping, and students read it.
PASSAGE = "stimulus-"


class LedgerNote(Note):
    """Why a facet of an item is not `same`."""

    facet: Facet


class LedgerItem(BaseModel):
    a: str
    b: str
    title: str
    facets: dict[Facet, Verdict]
    notes: list[LedgerNote] = Field(default_factory=list)

    @property
    def worst(self) -> Verdict:
        return worst_of(self.facets.values())

    @computed_field  # type: ignore[prop-decorator]
    @property
    def for_students(self) -> Verdict:
        """The worst verdict of what students see and are marked by."""
        own = OWN_FACETS - {"grouping"} if any(note.code.startswith(PASSAGE) for note in self.notes) else OWN_FACETS
        return worst_of(["same", *(verdict for facet, verdict in self.facets.items() if facet not in own)])

    @computed_field  # type: ignore[prop-decorator]
    @property
    def for_you(self) -> Verdict:
        """The worst verdict of what only the instructor sees."""
        return worst_of(["same", *(verdict for facet, verdict in self.facets.items() if facet in OWN_FACETS)])


class Totals(BaseModel):
    """Items, or quizzes, by their worst verdict; what is on one side alone counts as lost or added."""

    same: int = 0
    recast: int = 0
    changed: int = 0
    lost: int = 0
    added: int = 0


def is_sound(*totals: Totals) -> bool:
    """Nothing changed and nothing was lost."""
    return not any(total.changed or total.lost for total in totals)


class SampleProof(BaseModel):
    """What was proved of items before they were taken: of a source, that so many unflagged ones were looked at, drawn by a seed.

    `items` says how many of the ledger's items were among those; `words` what that proves, with the bound.
    """

    source: str
    items: int
    of: int
    looked: int
    wrong: int
    most: int
    seed: int
    words: str


class Ledger(BaseModel):
    """`totals` count items by the worst of all their facets, `for_students` and `for_you` by those that each sees.

    `whole` is there where two readings of one test were compared, `proofs` where items come from readings that were sampled.
    """

    items: list[LedgerItem] = Field(default_factory=list)
    only_in_a: list[str] = Field(default_factory=list)
    only_in_b: list[str] = Field(default_factory=list)
    totals: Totals = Field(default_factory=Totals)
    for_students: Totals = Field(default_factory=Totals)
    for_you: Totals = Field(default_factory=Totals)
    quizzes: list[LedgerQuiz] = Field(default_factory=list)
    quiz_totals: Totals = Field(default_factory=Totals)
    whole: Wholeness | None = Field(default=None, exclude_if=lambda whole: whole is None)
    proofs: list[SampleProof] = Field(default_factory=list, exclude_if=lambda proofs: not proofs)

    @model_validator(mode="after")
    def _counted(self) -> Ledger:
        """A ledger that was kept before the two sums were told gets them from its items."""
        if not {"for_students", "for_you"} <= self.model_fields_set:
            self.count()
        return self

    def count(self) -> None:
        """Counts the items anew, after any was added or judged otherwise."""
        for name, verdict in _SUMS.items():
            setattr(self, name, Totals.model_validate(Counter(verdict(entry) for entry in self.items)))

    def add(self, other: Ledger) -> None:
        """Adds the ledger of another file."""
        self.items += other.items
        self.only_in_a += other.only_in_a
        self.only_in_b += other.only_in_b
        self.quizzes += other.quizzes
        self.quiz_totals = Totals(**(Counter(self.quiz_totals.model_dump()) + Counter(other.quiz_totals.model_dump())))
        self.count()

    def tell_lost(self, lost: Iterable[tuple[str | None, Facet, str, str]]) -> None:
        """Adds facets of items that were lost before they could be written, each as (item, facet, code, message)."""
        by_item = {entry.a: entry for entry in self.items if entry.a}
        for item, facet, code, message in lost:
            if item in by_item:
                by_item[item].facets[facet] = "lost"
                by_item[item].notes.append(LedgerNote(facet=facet, code=code, message=message))
        self.count()

    def tell_left_out(self, left_out: Iterable[tuple[str, str, str]]) -> None:
        """Adds items that were not written, each as (item, title, why)."""
        for item, title, why in left_out:
            self.items.append(_on_one_side(item, "", title, why))
            self.only_in_a.append(item)
        self.count()

    @property
    def sound(self) -> bool:
        """Nothing changed and nothing was lost, of items and of quizzes."""
        return is_sound(self.totals, self.quiz_totals)


_SUMS: dict[str, Callable[[LedgerItem], Verdict]] = {
    "totals": lambda entry: entry.worst,
    "for_students": lambda entry: entry.for_students,
    "for_you": lambda entry: entry.for_you,
}


def compare(
    a: Bank,
    b: Bank,
    reasons: dict[str, str] | None = None,
    room: Room = ALL_OF_IT,
    origins: Mapping[str, Origin] | None = None,
    partners: Mapping[str, str] | None = None,
) -> Ledger:
    """The ledger of bank `a` against bank `b`.

    `reasons` says for items of `a` why a writer left them out, `room` what the format that was written has a place for, `origins`
    how items of `a` that could not hold it were marked where they came from, `partners` which item of `b` one of `a` is, by ids,
    where that is known.
    """
    with uncollected():
        return _compared(a, b, match_items(a, b, partners), reasons or {}, room, origins or {})


def compare_readings(a: Bank, b: Bank) -> Ledger:
    """The ledger of two readings of one test, with which of them arrived more whole."""
    ledger = compare(a, b)
    ledger.whole = more_whole(a, b)
    return ledger


def _compared(a: Bank, b: Bank, matched: Matched, reasons: dict[str, str], room: Room, origins: Mapping[str, Origin]) -> Ledger:
    pairs, only_a, only_b = matched.pairs, matched.only_a, matched.only_b
    sides = Sides(a, b, "" if room.pools else room.label, origins)
    ledger = Ledger(only_in_a=[item.id for item in only_a], only_in_b=[item.id for item in only_b])
    for item_a, item_b in pairs:
        ledger.items.append(_entry(item_a, item_b, sides))
    ledger.quizzes = compare_quizzes(a, b, matched, room)
    of_quizzes: Counter[str] = Counter(quiz.worst for quiz in ledger.quizzes)
    ledger.quiz_totals = Totals(**of_quizzes)
    for item in only_a:
        why = reasons.get(item.id, "Nothing in the other matches it.")
        ledger.items.append(_on_one_side(item.id, "", name_of(item), why))
    for item in only_b:
        ledger.items.append(_on_one_side("", item.id, name_of(item), "Nothing in the first matches it."))
    ledger.count()
    return ledger


def _on_one_side(a: str, b: str, title: str, why: str) -> LedgerItem:
    """An item that is in `a` alone, and so lost, or in `b` alone, and so added."""
    verdict, code = ("lost", "left-out") if a else ("added", "not-in-first")
    note = LedgerNote(facet="type", code=code, message=why)
    return LedgerItem(a=a, b=b, title=title, facets=dict.fromkeys(FACETS, verdict), notes=[note])


def _entry(a: Item, b: Item, sides: Sides) -> LedgerItem:
    found = differences(a, b, sides)
    facets: dict[Facet, Verdict] = {**dict.fromkeys(FACETS, "same"), **{facet: judged.verdict for facet, judged in found}}
    notes = [LedgerNote(facet=facet, code=said.code, message=said.message, a=said.a, b=said.b) for facet, said in found]
    return LedgerItem(a=a.id, b=b.id, title=name_of(a), facets=facets, notes=notes)


def differences(a: Item, b: Item, sides: Sides, facets: Iterable[Facet] = FACETS) -> list[tuple[Facet, Judgement]]:
    """The facets, of those asked for, in which two states of an item are not the same, each with its verdict and why."""
    shown, found = formulas_told(a, b), []
    for facet in facets:
        judgement: Judgement = JUDGES[facet](a, shown, sides)
        if facet == "math" and shown is not b and judgement.verdict == "same":
            judgement = Judgement("recast", "math-as-picture", "Formulas became pictures that carry their TeX.")
        if judgement.verdict != "same":
            found.append((facet, judgement))
    return found


def formulas_told(a: Item, b: Item) -> Item:
    """`b` with formulas in the place of their pictures, where `a` has formulas and no such pictures; else `b` itself."""
    pictured = [any(map(has_formula_pictures, content_fields(item))) for item in (a, b)]
    return map_content(b, with_formulas_for_pictures) if pictured == [False, True] else b


def name_of(item: Item) -> str:
    return item.title or plain_text(item.stem)[:80] or item.id
