"""What an item is in a document that people read: labels, choices, key, feedback. Shared by all writers of documents."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from rogatum.core.finding import Finding
from rogatum.core.findings.sources import LEFT_OUT
from rogatum.core.formats.shared.base import Carries
from rogatum.core.formats.shared.numbers import number_key
from rogatum.core.items import (
    Bank,
    Blank,
    ChoiceBlank,
    Cloze,
    Essay,
    Item,
    ItemType,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericBlank,
    Ordering,
    Stimulus,
    TextAnswer,
    metadata,
)
from rogatum.core.items.by_type import ALL_TYPES, ByBlank, ByType
from rogatum.core.items.content import comparable, escape
from rogatum.core.items.parts import MOST_LETTERS, letter, rights
from rogatum.core.items.type_words import TYPE_LABELS
from rogatum.core.quizzes.draws import shuffled

HELD: frozenset[ItemType] = ALL_TYPES - {"preserved"}
# Who reads the document finds these of a quiz; a program that reads it makes no quiz of its items.
PRINTED = frozenset({"title", "order", "draws", "passages", "instructions", "time_limit"})
# What every document that people read has a place for; a format adds its own.
CARRIES = Carries(
    types=HELD,
    printed=PRINTED,
    points=True,
    feedback=frozenset({"general", "correct", "incorrect"}),
    formulas=True,
    metadata=True,
    titles=True,
    pools=True,
    stimuli=True,
    all_or_nothing=True,
    sample_answer=True,
    otherwise={
        # No line of a document tells them.
        "tag": {"metadata": "lost"},
        "own-label": {"metadata": "lost"},
        "exact-bounds": {},
        "open-range@numeric": {"type": "changed", "key": "lost", "marking": "changed"},
        "forms": {"key": "changed", "marking": "changed"},
        "bare-picture": {},
        "no-key@true_false": {"type": "changed", "choices": "lost", "marking": "changed"},
        "no-key@numeric": {"type": "changed", "marking": "changed"},
        "no-key@cloze": {"type": "lost"},
    },
)
FEEDBACK = {"general": "Feedback", "correct": "Correct feedback", "incorrect": "Incorrect feedback"}

Labelled = list[tuple[str, str]]


def head_labels(item: Item) -> Labelled:
    """Title, type, points and metadata, as (label, content)."""
    found: Labelled = [("Title", escape(item.title))] if item.title else []
    # The form says the type of a question with choices or an answer; these others look like one another.
    if item.type in ("multiple_response", "essay", "information", "fill_in", "cloze", "matching", "ordering"):
        found.append(("Type", TYPE_LABELS[item.type]))
    if item.points is not None:
        found.append(("Points", f"{item.points:g}"))
    return found + [
        (metadata.SHOWN[label], escape("; ".join(values))) for label, values in item.metadata.items() if label in metadata.SHOWN
    ]


def points_behind(item: Item) -> str:
    """The points as they stand behind a stem in a student's copy."""
    return "" if item.points is None else f" ({item.points:g} {'point' if item.points == 1 else 'points'})"


def feedback_labels(item: Item) -> Labelled:
    return [(FEEDBACK[kind], text) for kind, text in item.feedback.items() if text]


def choices_of(item: Item) -> list[tuple[bool, str]]:
    """What letters stand before, as (whether it is in the key, content).

    The rights of a matching and the steps of an ordering stand in an order that does not give the answer away and is the same
    each time.
    """
    return _LETTERED.of(item)(item)


def _none(_item: Item) -> list[tuple[bool, str]]:
    return []


def _of_one(item: MultipleChoice) -> list[tuple[bool, str]]:
    return [(choice.weight == 1, choice.content) for choice in item.choices]


def _of_several(item: MultipleResponse) -> list[tuple[bool, str]]:
    return [(choice.weight > 0, choice.content) for choice in item.choices]


def _of_rights(item: Matching) -> list[tuple[bool, str]]:
    asked = list(dict.fromkeys(pair.right for pair in item.pairs))
    return [(False, content) for content in _mixed(asked, rights(item)[len(asked) :], comparable(item.stem))]


def _of_steps(item: Ordering) -> list[tuple[bool, str]]:
    return [(False, content) for content in _mixed(list(dict.fromkeys(item.sequence)), [], comparable(item.stem))]


def _mixed(asked: Sequence[str], others: Sequence[str], seed: str) -> list[str]:
    """Contents in an order that tells nothing of the key, and that comes again when the document is read and written anew.

    So it hangs on their words alone: pictures are called otherwise in each document. Those of the same words are told apart by
    their place in the key; `others` have none there and stay in order among themselves.
    """
    groups: dict[str, list[str]] = {}
    seen: Counter[str] = Counter()
    for content in asked:
        words = comparable(content)
        groups[f"{words}\x00{seen[words]}" if seen[words] else words] = [content]
        seen[words] += 1
    for content in others:
        words = comparable(content)
        groups.setdefault(f"{words}\x00" if words in seen else words, []).append(content)
    return [content for words in shuffled(list(groups), seed) for content in groups[words]]


_LETTERED: ByType[Callable[[Any], list[tuple[bool, str]]]] = ByType(
    "what letters stand before in a document",
    {
        "multiple_choice": _of_one,
        "multiple_response": _of_several,
        "true_false": _none,
        "fill_in": _none,
        "numeric": _none,
        "cloze": _none,
        "matching": _of_rights,
        "ordering": _of_steps,
        "essay": _none,
        "information": _none,
    },
    HELD,
)


def lefts_of(item: Item) -> list[str]:
    """What is matched, which numbers stand before."""
    return [pair.left for pair in item.pairs] if isinstance(item, Matching) else []


def key_text(item: Item) -> str:
    """What stands behind “Answer:”; empty where marks or letters of choices tell the key, or where there is none."""
    return _KEY_TEXT.of(item)(item)


def _told_by_letters(_item: Item) -> str:
    return ""


def _pair_letters(item: Matching) -> str:
    shown = [content for _, content in choices_of(item)]
    return ", ".join(f"{n}-{letter(shown.index(pair.right))}" for n, pair in enumerate(item.pairs, 1))


def _step_letters(item: Ordering) -> str:
    shown = [content for _, content in choices_of(item)]
    return ", ".join(letter(shown.index(content)) for content in item.sequence)


_KEY_TEXT: ByType[Callable[[Any], str]] = ByType(
    "what stands behind “Answer:” in a document",
    {
        "multiple_choice": _told_by_letters,
        "multiple_response": _told_by_letters,
        "true_false": lambda item: "" if item.answer is None else str(item.answer),
        "fill_in": lambda item: "; ".join(_texts(item.answers)),
        "numeric": lambda item: _numeric_key(item),
        "cloze": lambda item: "; ".join(_blank_key(blank) for blank in item.blanks),
        "matching": _pair_letters,
        "ordering": _step_letters,
        "essay": _told_by_letters,
        "information": _told_by_letters,
    },
    HELD,
)


def key_letters(item: Item) -> str:
    """The letters of the key of an item with choices: "B", "A, C"."""
    return ", ".join(letter(n) for n, (right, _) in enumerate(choices_of(item)) if right)


def _texts(answers: list[TextAnswer]) -> list[str]:
    return [answer.text for answer in answers if answer.weight == 1]


def _blank_key(blank: Blank) -> str:
    return _KEY_OF_BLANK.of(blank)(blank)


_KEY_OF_BLANK: ByBlank[Callable[[Any], str]] = ByBlank(
    "the key of a blank in a document",
    {
        "text": lambda blank: " / ".join(_texts(blank.answers)),
        "numeric": lambda blank: number_key(blank.answers[0]),
        "choice": lambda _blank: "",
    },
)


def why_not_held(item: Item) -> str:
    """Why a document cannot hold an item; empty where it can."""
    if item.type not in HELD:
        return f"has no {TYPE_LABELS[item.type]} items"
    if len(choices_of(item)) > MOST_LETTERS:
        return f"has letters for {MOST_LETTERS} choices, and this item has more"
    if isinstance(item, Cloze):
        if any(isinstance(blank, ChoiceBlank) for blank in item.blanks):
            return "has no blanks with choices of their own"
        if len(item.blanks) < 2 or not all(_blank_key(blank) for blank in item.blanks if not isinstance(blank, NumericBlank)):
            return "has no text with one blank, or with a blank that has no answer"
    if isinstance(item, Ordering | Matching) and len(choices_of(item)) < 2:
        return "has no letters for fewer than two choices"
    if isinstance(item, Ordering) and len(set(item.sequence)) < len(item.sequence):
        return "cannot order steps that are the same"
    return ""


def is_held(item: Item) -> bool:
    return not why_not_held(item)


@dataclass(frozen=True)
class Entry:
    """An item as it comes in a document: the headings before it, as (level, name), its passage where one begins, its number."""

    item: Item
    number: int
    headings: list[tuple[int, str]] = field(default_factory=list)
    passage: Stimulus | None = None
    last: int = 0

    @property
    def use(self) -> str:
        """The line that says which questions its passage is for."""
        return (
            f"Use this for questions {self.number} to {self.last}."
            if self.last > self.number
            else f"Use this for question {self.number}."
        )


def entries(bank: Bank, label: str, findings: list[Finding]) -> Iterator[Entry]:
    """The items that a document holds, numbered through; the others become findings."""
    paths, current = bank.pool_paths(), None
    stimuli = {stimulus.id: stimulus for stimulus in bank.stimuli}
    held: list[Item] = []
    for item in bank.items:
        if why := why_not_held(item):
            findings.append(LEFT_OUT.at("", item.id, detail=f"{label} {why}."))
        else:
            held.append(item)
    before: str | None = None
    for number, item in enumerate(held, 1):
        path = paths.get(item.id, ())
        headings: list[tuple[int, str]] = []
        if path != current and path:
            shared = shared_names(current or (), path)
            headings = [(level, name) for level, name in enumerate(path) if level >= shared]
            current = path
        passage = stimuli.get(item.stimulus or "") if headings or item.stimulus != before else None
        before = item.stimulus
        run = _run_of(held, number - 1, paths) if passage else 0
        yield Entry(item, number, headings, passage, number + run)


def _run_of(items: list[Item], start: int, paths: dict[str, tuple[str, ...]]) -> int:
    """How many items behind one have its stimulus too, below the same heading."""
    run = 0
    for item in items[start + 1 :]:
        if item.stimulus != items[start].stimulus or paths.get(item.id) != paths.get(items[start].id):
            break
        run += 1
    return run


def _numeric_key(item: Numeric) -> str:
    full = next((answer for answer in item.answers if answer.weight == 1), None)
    if full is None or float("inf") in map(abs, full.bounds()):
        return ""
    return number_key(full) + (f" {item.unit}" if item.unit else "")


def essay_labels(item: Item) -> Labelled:
    if not isinstance(item, Essay):
        return []
    found = [("Model answer", item.sample_answer or ""), ("Rubric", item.rubric or "")]
    return [(label, text) for label, text in found if text]


def shared_names(before: tuple[str, ...], path: tuple[str, ...]) -> int:
    """How many names at the start two pool paths share; the last name is always written."""
    count = 0
    for a, b in zip(before, path[:-1], strict=False):
        if a != b:
            break
        count += 1
    return count
