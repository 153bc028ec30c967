"""What a format is: one record with its reader, its writer and what it carries. No format knows another."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field, fields
from itertools import chain, count
from typing import Literal, Protocol, get_args

from rogatum.core.accounting import Account
from rogatum.core.finding import Finding, FindingKind
from rogatum.core.findings.contents import CONTENT_REMOVED, FORMULA_BROKEN, MARKUP_DROPPED, MEDIA_MISSING
from rogatum.core.findings.items import DOUBLE_ID
from rogatum.core.formats.shared.source_parts import Outline
from rogatum.core.items import Bank, Item, ItemType, Place, SourceInfo
from rogatum.core.items.content import Notes, removed_texts, rich
from rogatum.core.quizzes.marking import Response
from rogatum.core.quizzes.model import SETTINGS, Quiz
from rogatum.core.quizzes.paper import Draws
from rogatum.core.sources import MediaBox, SourceTree

FeedbackSlot = Literal["general", "correct", "incorrect", "choice", "answer"]
_SLOT_WORDS: dict[FeedbackSlot, str] = {
    "general": "general feedback",
    "correct": "feedback when right",
    "incorrect": "feedback when wrong",
    "choice": "feedback of choices",
    "answer": "feedback of typed answers",
}


def _trait(words: str) -> bool:
    """A trait that people are told of, in words."""
    return field(default=False, metadata={"words": words})


@dataclass(frozen=True)
class Carries:
    """What a format can hold; shared by `rogatum formats`, the API, the ledger's reasons and the round-trip tests."""

    types: frozenset[ItemType]
    points: bool = _trait("points")
    feedback: frozenset[FeedbackSlot] = frozenset()
    formatting: bool = _trait("formatting")
    formulas: bool = _trait("formulas")
    media: bool = _trait("media")
    alt_texts: bool = _trait("alternative texts")
    metadata: bool = _trait("metadata")
    titles: bool = _trait("titles")
    pools: bool = _trait("pools")
    draws: bool = _trait("draws")
    stimuli: bool = _trait("passages")
    partial_credit: bool = _trait("partial credit")
    # Whether the choices of a multiple response can each earn or take a part; scores can go below 0; orders, pairs and blanks can
    # count all together or each; and a range of numbers can leave out a bound, or be told by figures or per cent.
    per_choice: bool = _trait("marks for each choice")
    below_zero: bool = _trait("scores below 0")
    part_scoring: bool = _trait("scoring of parts")
    exact_bounds: bool = _trait("bounds that do not count")
    all_or_nothing: bool = False
    regex: bool = _trait("patterns")
    contains: bool = False
    case: bool = False
    choice_blanks: bool = False
    # Whether an item can say that its choices may be shuffled, or that they may not.
    choice_order: bool = _trait("the order of choices")
    sample_answer: bool = False
    # Whether a quiz has a place; an item in it other points than alone, and others in each place where it stands; several
    # parts, instructions before them, and where a page begins; which settings, with the values that have words (None for any).
    quizzes: bool = _trait("quizzes")
    pools_beside_quizzes: bool = True
    weights: bool = False
    weights_by_place: bool = False
    parts: bool = False
    # Which facets of a quiz people read there, where it has no place for a quiz.
    printed: frozenset[str] = frozenset()
    instructions: bool = False
    page_breaks: bool = False
    settings: Mapping[str, frozenset[object] | None] = field(default_factory=dict)
    # Settings that it has to say, with what it says where nobody did.
    always_says: Mapping[str, object] = field(default_factory=dict)
    # What becomes of a feature of items (`receivers/features.py`) where the fields above do not tell it: the verdicts of facets, by
    # the feature alone or with a type, as in "pattern@fill_in"; none for what comes over as it is. A type that
    # is lost is the whole item.
    otherwise: Mapping[str, Mapping[str, str]] = field(default_factory=dict)

    @property
    def order_by_items(self) -> bool:
        """Whether items alone say if their choices are shuffled: a quiz has no place for it."""
        return self.choice_order and "shuffle_choices" not in self.settings

    def traits(self) -> dict[str, bool]:
        """What people are told of a format, by its words: whether it carries it."""
        told = [entry for entry in fields(self) if "words" in entry.metadata]
        return {entry.metadata["words"]: getattr(self, entry.name) for entry in told}

    def lacks(self) -> list[str]:
        """What a format has no place for, in words; the settings of a quiz apart."""
        slots = [words for slot, words in _SLOT_WORDS.items() if slot not in self.feedback]
        return [words for words, carried in self.traits().items() if not carried] + (slots if self.feedback else ["feedback"])


# What the model holds: a format that holds all of it, or all but a little.
EVERYTHING = Carries(
    types=frozenset(get_args(ItemType)),
    points=True,
    feedback=frozenset(get_args(FeedbackSlot)),
    formatting=True,
    formulas=True,
    media=True,
    alt_texts=True,
    metadata=True,
    titles=True,
    pools=True,
    draws=True,
    stimuli=True,
    partial_credit=True,
    per_choice=True,
    below_zero=True,
    part_scoring=True,
    exact_bounds=True,
    all_or_nothing=True,
    regex=True,
    contains=True,
    case=True,
    choice_blanks=True,
    choice_order=True,
    sample_answer=True,
    quizzes=True,
    weights=True,
    weights_by_place=True,
    parts=True,
    instructions=True,
    page_breaks=True,
    settings=dict.fromkeys(SETTINGS),
)


@dataclass(slots=True)
class ViewLine:
    """A line of a source as it is shown: its text, the item it belongs to, the role that it was read in, and its name.

    `html` is the line as it stands in a document, where that has more than its text: emphasis, marks, pictures, formulas.
    """

    number: int
    text: str
    item: str | None = None
    role: str = ""
    file: str = ""
    name: str = ""
    html: str = ""


@dataclass(frozen=True)
class ColumnView:
    """A column of a sheet as it is shown: its heading, what it was taken for, and what stands in it."""

    table: str
    heading: str
    meaning: str
    sample: str


@dataclass(frozen=True)
class HabitView:
    """A habit of a document as it is shown: what it is about, the value found, in words, and the others as (value, words)."""

    about: str
    found: str
    words: str
    others: list[list[str]]


@dataclass
class Reading:
    """What a reader returns: the bank, its media, and the source's lines and columns for showing them beside the items."""

    bank: Bank
    media: MediaBox
    view: list[ViewLine] = field(default_factory=list)
    columns: list[ColumnView] = field(default_factory=list)
    habits: list[HabitView] = field(default_factory=list)
    # How the source marks those items that cannot hold it exactly, by their ids: the share of the points that a response earns.
    markings: dict[str, Callable[[Response], float]] = field(default_factory=dict)


@dataclass(frozen=True)
class Written:
    """What a writer returns: the bytes, the usual suffix, and what it could not carry, as findings on items.

    `sets` are the quizzes that stand on the papers of a test, one for each version.
    """

    data: bytes
    suffix: str
    findings: list[Finding] = field(default_factory=list)
    sets: list[Quiz] = field(default_factory=list)


Copy = Literal["teacher", "student", "key list"]


@dataclass(frozen=True)
class WriteOptions:
    """How a document for people is written.

    `copy` is for whom: a teacher, with key, points and feedback; a student, without; or a student with the key as a list at
    the end. `versions` is in how many versions a paper test is written, each in an order of its own. Of a quiz that draws, each
    version holds one set drawn with the `seed`, or all that it draws from.
    """

    copy: Copy = "teacher"
    versions: int = 1
    draws: Draws = "stock"
    seed: str = ""


TEACHERS_COPY = WriteOptions()


Reader = Callable[[SourceTree], Reading]


class Writer(Protocol):
    """A writer; the teacher's copy without options. A format that is written in one way alone heeds none."""

    def __call__(self, bank: Bank, media: MediaBox, options: WriteOptions = ..., /) -> Written: ...


Sniffer = Callable[[SourceTree], float]


@dataclass(frozen=True)
class Format:
    """A format of the registry. `sniff` says from 0 to 1 how surely a source is of this format, by its content."""

    name: str
    label: str
    suffix: str
    carries: Carries
    sniff: Sniffer
    read: Reader | None = None
    write: Writer | None = None
    # A package format reads a whole archive at once; the others read one file.
    package: bool = False
    # A document that people wrote: a list of its keys may stand in another one, and what its lines are can be said by hand.
    document: bool = False
    # A plain text, which can be corrected in place.
    text: bool = False
    # As which copies and in how many versions at most it is written, where it is for people.
    copies: tuple[Copy, ...] = ("teacher",)
    most_versions: int = 1
    # Which element of an item's markup is which part of it, where items have markup of their own.
    outline: Outline | None = None


def free_name(wanted: str, taken: Collection[str]) -> str:
    """The wanted name, or one with a number behind it where it is taken."""
    return wanted if wanted not in taken else next(name for n in count(2) if (name := f"{wanted}-{n}") not in taken)


def free_path(wanted: tuple[str, ...], is_taken: Callable[[tuple[str, ...]], object]) -> tuple[str, ...]:
    """The wanted path of a pool, or one with a number behind its last name where that is taken."""
    numbered = ((*wanted[:-1], f"{wanted[-1]} {n}") for n in count(2))
    return next(path for path in chain([wanted], numbered) if not is_taken(path))


class BankBuilder:
    """Collects what a reader finds: items with unique ids, their pools and places, findings, claims and media."""

    def __init__(self, name: str, format_name: str) -> None:
        self.bank = Bank(source=SourceInfo(name=name, format=format_name))
        self.media = MediaBox()
        self.account = Account()
        self.view: list[ViewLine] = []
        self.columns: list[ColumnView] = []
        self.habits: list[HabitView] = []
        self.markings: dict[str, Callable[[Response], float]] = {}
        self._ids: set[str] = set()
        # The place and the item whose content is being made, for what is found on the way.
        self.at: tuple[str, str | None] = ("", None)

    def note(self, finding: Finding) -> None:
        self.bank.findings.append(finding)

    def free_id(self, wanted: str, where: str, own: bool = True) -> str:
        """The wanted id, or one with a number behind it where it is taken; then a finding says so if it was the source's `own`."""
        wanted = wanted.strip() or f"i{len(self.bank.items) + 1}"
        candidate = free_name(wanted, self._ids)
        if candidate != wanted and own:
            self.note(DOUBLE_ID.at(where, candidate, identifier=wanted))
        self._ids.add(candidate)
        return candidate

    def add(self, item: Item, place: Place, path: list[str] | None = None) -> None:
        """Adds an item whose id came from `free_id`."""
        self.bank.items.append(item)
        self.bank.places[item.id] = place
        if path:
            self.bank.place_in_pool(item.id, path)

    def add_quiz(self, quiz: Quiz) -> None:
        """Adds a quiz under an id of its own; one that holds nothing is none."""
        if not quiz.parts:
            return
        taken = {other.id for other in self.bank.quizzes}
        wanted = quiz.id or f"q{len(taken) + 1}"
        self.bank.quizzes.append(quiz.model_copy(update={"id": free_name(wanted, taken)}))

    def content(
        self,
        markup: str,
        where: str,
        item: str | None,
        resolve: Callable[[str], str | None] | None = None,
        dollars: bool = False,
    ) -> str:
        """Canonical content; what was taken out or does not parse becomes findings on the item."""
        notes = Notes()
        self.at = (where, item)
        content = rich(markup, resolve, notes, dollars)
        if notes.removed:
            self.note(CONTENT_REMOVED.at(where, item, what=", ".join(sorted(notes.removed))))
            for name, text in removed_texts(markup):
                self.account.leave(where, f"removed {name}: {text}")
        if notes.dropped:
            self.note(MARKUP_DROPPED.at(where, item, tags=", ".join(sorted(notes.dropped))))
        for tex in notes.broken_formulas:
            self.note(FORMULA_BROKEN.at(where, item, tex=tex))
        return content

    def missing_files(self, kind: FindingKind, names: Collection[str], noun: str, where: str) -> None:
        """Says which files with questions are named and not there: what they held is lost."""
        if names:
            shown = ", ".join(list(names)[:6]) + (" and others" if len(names) > 6 else "")
            self.note(kind.at(where, count=f"{len(names)} {noun}{'' if len(names) == 1 else 's'}", names=shown))

    def missing_media(self, name: str, where: str, item: str | None) -> None:
        self.note(MEDIA_MISSING.at(where or self.at[0], item or self.at[1], name=name))

    def finish(self) -> Reading:
        self.bank.media = self.media.entries()
        self.bank.accounting = self.account.result()
        return Reading(self.bank, self.media, self.view, self.columns, self.habits, self.markings)
