"""What an item holds that a format or a receiver may have no place for, found once for all of them.

A feature is a word: `math`, `outcome`, `part-marks`. What feedback holds is told with its slot, `general/math`, since it goes where
that goes.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from rogatum.core.formats.shared.alternatives import words_of
from rogatum.core.items import (
    Bank,
    ChoiceBlank,
    Cloze,
    Essay,
    FillIn,
    Item,
    ItemType,
    Matching,
    MultipleChoice,
    MultipleResponse,
    Numeric,
    NumericBlank,
    Ordering,
    TextAnswer,
    TextBlank,
    metadata,
    parts,
)
from rogatum.core.items.by_type import ByType
from rogatum.core.items.coarser import lengths
from rogatum.core.items.content import TEX, alt_texts, media_refs, plain_text, skeleton
from rogatum.core.items.walking import each_content

_GLUED = re.compile(r"\w<span data-blank|data-blank=\"[^\"]*\"></span>\w")
MODEL_ANSWER = "model-answer"
# What is told of an item by its quiz: that its choices are shuffled, or that they are not.
ORDERED = "order-by-quiz"
# Types that have no key at all.
_WITHOUT_KEY = frozenset({"essay", "information", "preserved"})


@dataclass(frozen=True, slots=True)
class Features:
    """`held` are the words of what an item holds; lengths are characters, pictures are (bytes, kind)."""

    type: ItemType
    held: frozenset[str]
    stem: int
    choice: int
    choices: int
    pictures: tuple[tuple[int, str], ...]


@dataclass(frozen=True, eq=False)
class Surroundings:
    """What features need of the bank that an item lies in."""

    paths: Mapping[str, tuple[str, ...]]
    media: Mapping[str, tuple[int, str]]
    passages: Mapping[str, str]

    @classmethod
    def of(cls, bank: Bank) -> Surroundings:
        media = {entry.ref: (entry.size, entry.type) for entry in bank.media}
        return cls(bank.pool_paths(), media, {stimulus.id: stimulus.content for stimulus in bank.stimuli})

    def with_passage(self, item: Item) -> Item:
        """The item with its passage in its stem."""
        passage = self.passages.get(item.stimulus or "", "")
        whole = f"<p>{passage}</p>" if passage and not passage.startswith("<") else passage
        return item.model_copy(update={"stem": whole + item.stem})


def features_of(item: Item, around: Surroundings) -> Features:
    feedback = parts.feedback(item)
    slots = {text: slot_of(name) for name, text in feedback.items()}
    if isinstance(item, Essay) and item.sample_answer:
        slots[item.sample_answer] = MODEL_ANSWER
    held = {*_labels(item), *_places(item, around), *_MARKING.of(item)(item), *slots.values()}
    pictures: list[tuple[int, str]] = []
    for content in each_content(item):
        if "<" not in content:
            continue
        slot: str | None = slots.get(content)
        for trait in _in_content(content):
            held.add(f"{slot}/{trait}" if slot else trait)
        if slot is None and "src=" in content:
            pictures += [around.media.get(ref, (0, "")) for ref in media_refs(content)]
    stem, options = lengths(item)
    return Features(item.type, frozenset(held), stem, max(options, default=0), len(parts.choices(item)), tuple(pictures))


def slot_of(name: str) -> str:
    """The slot of a feedback by its name in `parts.feedback`: whatever choice or answer it is of."""
    for kind in ("choice", "answer"):
        if kind in name:
            return kind
    return name


def _in_content(content: str) -> Iterator[str]:
    if skeleton(content):
        yield "formatting"
    if "<math" in content:
        yield "math"
        if content.count("<math") > len(TEX.findall(content)):
            yield "bare-math"
    if "src=" in content:
        yield "media"
        if any(alt_texts(content)):
            yield "alt"


def _labels(item: Item) -> Iterator[str]:
    if item.title and item.title != parts.title_of(item.model_copy(update={"title": ""})):
        yield "title"
    for label, values in item.metadata.items():
        if any(values):
            yield label_feature(label)


def label_feature(label: str) -> str:
    """The feature that metadata under a label are."""
    return label if label in ("outcome", "tag") else "label" if label in metadata.NAMES else "own-label"


def _places(item: Item, around: Surroundings) -> Iterator[str]:
    keyless = item.type not in _WITHOUT_KEY and not parts.has_key(item)
    yield "points" if item.points is not None else "keyless-no-points" if keyless else "no-points"
    if keyless:
        yield "no-key"
    if keyless and any(item.feedback.get(side) for side in ("correct", "incorrect")):
        yield "keyless-feedback"
    if item.type in parts.WITH_ORDER:
        yield "order-not-set" if parts.own_order(item) is None else "order-set"
    if item.stimulus:
        yield "passage"
    path = around.paths.get(item.id, ())
    if path:
        yield "pool"
    if len(path) > 1:
        yield "nested"


# How answers are marked, by type


def _of_one(item: MultipleChoice) -> Iterator[str]:
    if any(0 < choice.weight < 1 for choice in item.choices):
        yield "part-marks"
    if any(choice.weight < 0 for choice in item.choices):
        yield "below-zero"
    if any(not plain_text(choice.content) for choice in item.choices):
        yield "bare-picture"


def _of_several(item: MultipleResponse) -> Iterator[str]:
    yield "each-choice" if item.scoring == "per_choice" else "all-or-nothing"
    if sum(choice.weight > 0 for choice in item.choices) == 1:
        yield "one-right"
    if item.lowest != 0:
        yield "no-lowest"
    if any(not plain_text(choice.content) for choice in item.choices):
        yield "bare-picture"


def _of_texts(answers: list[TextAnswer], case: bool) -> Iterator[str]:
    for answer in answers:
        if answer.match == "regex":
            yield "word-list" if words_of(answer.text) else "pattern"
    if any(answer.match == "contains" for answer in answers):
        yield "contains"
    if case or any(answer.case_sensitive for answer in answers):
        yield "case"
    if any(answer.weight < 1 for answer in answers):
        yield "part-marks"


def _of_fill_in(item: FillIn) -> Iterator[str]:
    yield from _of_texts(item.answers, item.case_sensitive)


def _of_numbers(part: Numeric | NumericBlank) -> Iterator[str]:
    if any(not (answer.include_min and answer.include_max) for answer in part.answers):
        yield "exact-bounds"
    if any(answer.weight < 1 for answer in part.answers):
        yield "part-marks"
    if any(abs(bound) == float("inf") for answer in part.answers for bound in answer.bounds()):
        yield "open-range"


def _of_numeric(item: Numeric) -> Iterator[str]:
    yield from _of_numbers(item)
    if item.unit:
        yield "unit"
    best = max(item.answers, key=lambda answer: answer.weight, default=None)
    if best is not None and best.feedback:
        yield "best-feedback"
    if any(answer.feedback for answer in item.answers if answer is not best):
        yield "other-feedback"


def _of_blanks(item: Cloze) -> Iterator[str]:
    shares = {round(blank.share, 4) for blank in item.blanks}
    yield from ["all-parts"] if item.scoring == "all_or_nothing" else ["each-part"] if len(item.blanks) > 1 else []
    yield from ["shares"] if len(shares) > 1 else []
    yield from ["no-lowest"] if item.lowest != 0 else []
    yield from ["glued-blank"] if _GLUED.search(item.stem) else []
    for blank in item.blanks:
        if isinstance(blank, ChoiceBlank):
            yield "choice-blank"
            if any(0 < choice.weight < 1 for choice in blank.choices):
                yield "part-marks"
            if any(choice.weight < 0 for choice in blank.choices):
                yield "below-zero"
        elif isinstance(blank, TextBlank):
            yield from _of_texts(blank.answers, blank.case_sensitive)
            yield from ["forms"] if len(blank.answers) > 1 else []
        else:
            yield from _of_numbers(blank)


def _of_pairs(item: Matching) -> Iterator[str]:
    yield from ["all-parts"] if item.scoring == "all_or_nothing" else ["each-part"]
    if len({pair.share for pair in item.pairs}) > 1:
        yield "shares"


def _of_order(item: Ordering) -> Iterator[str]:
    yield "each-part" if item.scoring == "per_part" else "all-parts"


def _nothing(_item: Item) -> Iterator[str]:
    return iter(())


_MARKING: ByType[Callable[[Any], Iterator[str]]] = ByType(
    "what is peculiar to how answers are accepted and marked",
    {
        "multiple_choice": _of_one,
        "multiple_response": _of_several,
        "true_false": _nothing,
        "fill_in": _of_fill_in,
        "numeric": _of_numeric,
        "cloze": _of_blanks,
        "matching": _of_pairs,
        "ordering": _of_order,
        "essay": _nothing,
        "information": _nothing,
        "preserved": _nothing,
    },
)
